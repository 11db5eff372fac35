# frozen_string_literal: true

require "digest"
require "securerandom"

module Handrail
  module Store
    # The private address under which somebody's calendar program reads the clinic's visits. Only its
    # digest is kept; a new one ends the one before, and it ends with the account.
    module CalendarKeys
      class << self
        # A new token for an account; the one before reads nothing any more.
        def make(account)
          token = SecureRandom.urlsafe_base64(32)
          row = {
            account_id: account.id,
            clinic_id: account.clinic_id,
            digest: digest(token),
            at: Store.now
          }
          Store.db[:calendar_keys].insert_conflict(
            target: :account_id,
            update: row.except(:account_id)
          ).insert(row)
          token
        end

        def revoke(account) = Store.db[:calendar_keys].where(account_id: account.id).delete
        def made_at(account) = Store.db[:calendar_keys].where(account_id: account.id).get(:at)

        # The Account that a token belongs to, or nil.
        def account(token)
          id = Store.db[:calendar_keys].where(digest: digest(token)).get(:account_id)
          account = id && Account[id]
          account if account&.open?
        end

        # What somebody's calendar shows: visits that are booked with them or with nobody yet, from a
        # month ago on, and those that were called off, missed or cancelled; first appointments of newcomers too
        # (:purpose "newcomer", no :title). Rows with the wearer's names; :gone where it does not take
        # place, or where an order took it over as its first visit.
        def visits(account, now: Store.now)
          since = now - (31 * 86_400)
          Store.db[BOOKED, account.clinic_id, since, account.id].all +
            Store.db[MISSED, account.clinic_id, since, account.id].all +
            Store.db[NEWCOMERS, account.clinic_id, since, account.id].all
        end

        COLUMNS = <<~SQL
          v.id, v.version, v.purpose, v.planned_room, s.title, p.given_name, p.family_name,
          (SELECT max(e.at) FROM entries e WHERE e.visit_id = v.id) AS changed_at
        SQL
        FROM = <<~SQL
          FROM visits v JOIN visit_summaries s ON s.visit_id = v.id JOIN patients p ON p.id = s.patient_id
        SQL
        BOOKED = <<~SQL.freeze
          SELECT #{COLUMNS}, v.planned_for, v.planned_to, v.called_off_at IS NOT NULL AS gone #{FROM}
          WHERE v.clinic_id = ? AND v.planned_for > ? AND NOT v.practice AND NOT v.resting
            AND (v.planned_with IS NULL OR v.planned_with = ?)
          ORDER BY v.planned_for, v.id LIMIT 2000
        SQL
        # of a visit that is not booked anew, the last time that it was missed
        MISSED = <<~SQL.freeze
          SELECT DISTINCT ON (v.id) #{COLUMNS}, m.planned_for, m.planned_to, true AS gone #{FROM}
          JOIN missed_visits m ON m.visit_id = v.id
          WHERE v.clinic_id = ? AND m.planned_for > ? AND v.planned_for IS NULL AND NOT v.practice
            AND (m.planned_with IS NULL OR m.planned_with = ?)
          ORDER BY v.id, m.id DESC LIMIT 2000
        SQL
        NEWCOMERS = <<~SQL
          SELECT a.id, a.version, 'newcomer' AS purpose, a.planned_room, NULL AS title, p.given_name, p.family_name,
                 coalesce(a.changed_at, a.ended_at, a.at) AS changed_at, a.planned_for, a.planned_to,
                 a.ended_at IS NOT NULL AS gone
          FROM first_appointments a JOIN patients p ON p.id = a.patient_id
          WHERE a.clinic_id = ? AND a.planned_for > ? AND p.rest IS NULL
            AND (a.planned_with IS NULL OR a.planned_with = ?)
          ORDER BY a.planned_for, a.id LIMIT 2000
        SQL
        private_constant :COLUMNS, :FROM, :BOOKED, :MISSED, :NEWCOMERS

        private

        def digest(token) = Digest::SHA256.hexdigest(token.to_s)
      end
    end
  end
end

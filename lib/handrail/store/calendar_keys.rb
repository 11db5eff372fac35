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

        # Visits of a clinic that a calendar shows: booked ones from a month ago on, also those that
        # were called off. Rows with the wearer's names.
        def visits(clinic, now: Store.now)
          Store.db[BOOKED, clinic.id, now - (31 * 86_400)].all
        end

        BOOKED = <<~SQL
          SELECT v.id, v.planned_for, v.called_off_at, v.closed_at, v.version, v.purpose, s.title,
                 p.given_name, p.family_name
          FROM visits v JOIN visit_summaries s ON s.visit_id = v.id JOIN patients p ON p.id = s.patient_id
          WHERE v.clinic_id = ? AND v.planned_for > ? AND NOT v.practice ORDER BY v.planned_for, v.id LIMIT 2000
        SQL
        private_constant :BOOKED

        private

        def digest(token) = Digest::SHA256.hexdigest(token.to_s)
      end
    end
  end
end

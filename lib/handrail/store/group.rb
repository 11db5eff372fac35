# frozen_string_literal: true

module Handrail
  module Store
    # A group of clinics: an office that sees the figures of all of them and never a patient, and the clinics that
    # joined it, on whatever cluster each lives.
    #
    #   Group.clinics(clinic.group_key)               # => [Member, ...], by name
    #   Group.figures(office.key, Date.new(2026, 11)) # => [[Figures, ...], names of clusters that are silent]
    #
    # An office is a clinic of its own without patients, which the database sees to; a clinic belongs to a group by the
    # key of its office. It moves nothing between clinics: see SentRecords and Places.
    module Group
      # A clinic of a group. cluster - nil where there is one database; id; name; place
      Member = Value.new(:cluster, :id, :name, :place)
      # What an office sees of a clinic in a month. people - open accounts; visits that were closed; firsts - of them
      # first fittings; handed_over - devices; overdue - rechecks that are overdue today; sized - devices that were
      # handed over ever, stayed - of them those that are worn in their first size
      Figures =
        Value.new(:name, :place, :people, :visits, :firsts, :handed_over, :overdue, :sized, :stayed)
      NUMBERS = %i[people visits firsts handed_over overdue sized stayed].freeze
      # how long (days) a code to join works
      DAYS = 7
      CODE_GONE = "This code was used already, or is too old. Ask the group's office for a new one."

      class << self
        # Clinics that belong to a group, by name, without its office.
        def clinics(key)
          return [] unless key

          Clusters
            .each { members(key) }
            .flat_map { |cluster, rows| rows.map { |row| Member[cluster: cluster, **row] } }
            .sort_by { |one| [one.name, one.id] }
        end

        # One of a clinic's group other than itself, or nil.
        def sister(clinic, id) =
          clinics(clinic.group_key).find { |one| one.id == id && one.id != clinic.id }

        # The figures of every clinic, and the names of clusters that did not answer. month - a Date in it
        def figures(key, month)
          from = Date.new(month.year, month.month)
          asked = { key: key, from: from, to: from >> 1 }
          found = Clusters.each { Store.db[FIGURES, asked].all }
          silent = Clusters.all.keys - found.keys
          [found.values.flatten.map { |row| Figures[**row] }.sort_by(&:name), silent]
        end

        # All of them together, as Figures without a name.
        def sum(figures) =
          Figures[**NUMBERS.to_h { |name| [name, figures.sum { |one| one[name] }] }]

        # [token, digest, end] of a new code.
        def code
          token = SecureRandom.urlsafe_base64(12)
          [token, People.digest(token), Store.now + (DAYS * 86_400)]
        end

        # Uses a code up, for a clinic of this name. Returns [key, name] of the group, or nil where it does not work.
        def use_code(token, used_by)
          found =
            Clusters
              .each { use_here(People.digest(token.to_s.strip), used_by) }
              .values
              .compact
              .first
          found&.values_at(:key, :name)
        end

        private

        def members(key)
          rows = Store.db[:clinics].where(group_key: key, office: false).select(:id, :name, :place)
          rows.all.select { |row| Directory.here?(row[:id]) }
        end

        def use_here(digest, used_by)
          Store.db.transaction do
            codes = Store.db[:group_codes].where(digest: digest, used_at: nil)
            code = codes.where { expires_at > Store.now }.for_update.first or next
            Store.db[:group_codes].where(id: code[:id]).update(used_at: Store.now, used_by: used_by)
            Store.db[:clinics].where(id: code[:clinic_id]).select(:key, :name).first
          end
        end
      end

      # numbers alone, a row a clinic; the practice patient counts nowhere
      FIGURES = <<~SQL
        SELECT c.name, c.place,
          (SELECT count(*) FROM accounts a WHERE a.clinic_id = c.id AND a.status_id = 2) AS people,
          v.visits, v.firsts,
          (SELECT count(*) FROM hand_overs h JOIN visits x ON x.id = h.visit_id
           WHERE h.clinic_id = c.id AND NOT x.practice AND h.at >= m.from_time AND h.at < m.to_time) AS handed_over,
          (SELECT count(*) FROM visits x WHERE x.clinic_id = c.id AND x.purpose = 'recheck' AND x.closed_at IS NULL
            AND x.opened_at IS NULL AND x.called_off_at IS NULL AND NOT x.practice AND NOT x.resting
            AND (x.planned_for IS NULL OR x.planned_for < now())
            AND x.due_to < (now() AT TIME ZONE c.time_zone)::date) AS overdue,
          o.sized, o.stayed
        FROM clinics c
        CROSS JOIN LATERAL (SELECT :from::timestamp AT TIME ZONE c.time_zone AS from_time,
          :to::timestamp AT TIME ZONE c.time_zone AS to_time) m
        CROSS JOIN LATERAL (SELECT count(*) AS visits, count(*) FILTER (WHERE purpose = 'first') AS firsts
          FROM visits x WHERE x.clinic_id = c.id AND NOT x.practice AND x.closed_at >= m.from_time
            AND x.closed_at < m.to_time) v
        CROSS JOIN LATERAL (SELECT count(*) AS sized, count(*) FILTER (WHERE first = last) AS stayed
          FROM fitting_outcomes x WHERE x.clinic_id = c.id) o
        WHERE c.group_key = :key AND NOT c.office
          AND NOT EXISTS (SELECT 1 FROM clinic_holds h WHERE h.clinic_id = c.id AND h.why IN ('gone', 'arriving'))
        ORDER BY c.name
      SQL
      private_constant :FIGURES
    end
  end
end

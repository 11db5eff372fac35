# frozen_string_literal: true

module Handrail
  module Store
    # What of a running fitting is due when: parts to renew, the day on which the size that is worn
    # ends at this rate, and from when something stands that should not wait, see
    # Handrail::Visit::ConcernWork. Kept beside the rows that it follows from, for the board.
    module Dues
      class << self
        # Brings a fitting's rows up to date. visit - the newest of it that was written on
        def keep(visit)
          # before the hand-over nothing is due, and nothing was
          return if visit.patient.practice || !visit.handed_over?

          set = Store.db[:fitting_dues].where(fitting_id: visit.fitting.id)
          set.delete
          return if visit.fitting.ended_at

          latest = latest_of(visit)
          rows = rows_of(latest)
          Store.db[:fitting_dues].multi_insert(rows) if rows.any?
        end

        # The first rows of a clinic of each kind: kind => rows, with the wearer's names and the
        # fitting's next visit. wanted - kind => [last day, moment]: what is due up to that day, of
        # fittings with no visit booked from `from` until that moment; most - of each.
        def of(clinic, wanted, from:, most: 16)
          moments =
            wanted.to_h do |kind, (day, moment)|
              [kind, { "#{kind}_day": day, "#{kind}_moment": moment || from }]
            end
          values = moments.values.reduce({ clinic: clinic.id, from: from }, :merge)
          Store
            .prepared(:"dues_#{wanted.keys.join("_")}_#{most}", **values) do
              soon(wanted.keys, most)
            end
            .group_by { |row| row[:kind] }
        end

        # the statement, with placeholders
        def soon(kinds, most)
          windows =
            kinds.map do |kind|
              [
                kind,
                Sequel.cast(:"$#{kind}_day", Date),
                Sequel.cast(:"$#{kind}_moment", :timestamptz)
              ]
            end
          asked = {
            windows: Store.db.values(windows),
            from: Sequel.cast(:$from, :timestamptz),
            clinic: :$clinic,
            most: most
          }
          Store.db[SOON, asked]
        end

        SOON = <<~SQL
          SELECT due.*, p.given_name, p.family_name,
            (SELECT min(n.id) FROM visits n WHERE n.fitting_id = due.fitting_id AND n.opened_at IS NULL
              AND n.closed_at IS NULL AND n.called_off_at IS NULL) AS next_visit
          FROM :windows AS wanted (kind, until_day, until_moment)
          CROSS JOIN LATERAL (
            SELECT d.*, f.patient_id FROM fitting_dues d JOIN fittings f ON f.id = d.fitting_id
            WHERE NOT EXISTS (
                SELECT 1 FROM visits b WHERE b.fitting_id = d.fitting_id AND b.planned_for >= :from
                AND b.planned_for < wanted.until_moment AND b.closed_at IS NULL AND b.called_off_at IS NULL)
              AND d.clinic_id = :clinic AND d.kind = wanted.kind AND d.due_on <= wanted.until_day
              AND f.ended_at IS NULL
            ORDER BY d.due_on, d.fitting_id, d.key LIMIT :most) AS due
          JOIN patients p ON p.id = due.patient_id
          ORDER BY due.kind, due.due_on, due.fitting_id, due.key
        SQL
        private_constant :SOON

        # Forgets a clinic's, to be made anew.
        def clear(clinic) = Store.db[:fitting_dues].where(clinic_id: clinic.id).delete

        # A visit's rows as they would be made now.
        def rows_of(visit)
          owner = { clinic_id: visit.clinic.id, fitting_id: visit.fitting.id, visit_id: visit.id }
          (parts(visit) + sizes(visit) + concerns(visit)).map { |row| { **owner, **row } }
        end

        # Whether what is kept of a fitting is what would be made now; of one that has ended, nothing.
        def kept?(visit)
          none = visit.patient.practice || visit.fitting.ended_at
          made = none ? [] : rows_of(latest_of(visit))
          order = ->(rows) do
            rows
              .map { |row| row.slice(:kind, :key, :due_on) }
              .sort_by { |row| row.values.map(&:to_s) }
          end
          order[Store.db[:fitting_dues].where(fitting_id: visit.fitting.id).all] == order[made]
        end

        private

        # the last visit of the fitting at which something was written
        def latest_of(visit)
          row = visit.visits.reverse.find(&:opened_at) || visit.row
          visit.at(row)
        end

        def parts(visit)
          visit.part_dues.map do |due|
            {
              kind: "part",
              key: [due.part.key, due.side].compact.join(":"),
              label: [due.side, due.part.label].compact.join(" "),
              due_on: due.due
            }
          end
        end

        # what should not wait, with the day from which it stands
        def concerns(visit)
          visit.concerns.map do |one|
            said = [visit.said_side(one.side), concern_label(one)].compact.join(" ")
            key = [one.key, one.side].compact.join(":")
            { kind: one.kind.to_s, key: key, label: said, due_on: one.since }
          end
        end

        # a code or a title of the family, said in full where it is shown
        def concern_label(one) =
          one.figures[:title] || one.figures[:label] ||
            one.figures.values_at(:skin, :course).join(":")

        # the earliest day on which a girth comes to the edge of the size, one a side
        def sizes(visit)
          return [] unless visit.handed_over?

          visit.sides.filter_map do |side|
            ending =
              visit
                .courses(side)
                .select { |course| course.crossing.on }
                .min_by { |course| course.crossing.on }
            next unless ending

            label = [visit.said_side(side), "size #{ending.size}"].compact.join(" ")
            { kind: "size", key: side.to_s, label: label, due_on: ending.crossing.on }
          end
        end
      end
    end
  end
end

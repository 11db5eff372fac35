# frozen_string_literal: true

module Handrail
  module Store
    # What of a running fitting is due when: parts to renew, and the day on which the size that is
    # worn ends at this rate. Kept beside the rows that it follows from, for the board.
    module Dues
      class << self
        # Brings a fitting's rows up to date. visit - the newest of it that was written on
        def keep(visit)
          # before the hand-over nothing is due, and nothing was
          return if visit.patient.practice || !visit.handed_over?

          latest = latest_of(visit)
          set = Store.db[:fitting_dues].where(fitting_id: visit.fitting.id)
          set.delete
          rows = rows_of(latest)
          Store.db[:fitting_dues].multi_insert(rows) if rows.any?
        end

        # Rows of a clinic that are due within so many days, the first first, with the wearer's
        # names; at most `most`.
        def of(clinic, kind, until_day, most: 16)
          Store.db[SOON, clinic.id, kind, until_day, most].all
        end

        SOON = <<~SQL
          SELECT d.*, p.given_name, p.family_name FROM fitting_dues d
          JOIN fittings f ON f.id = d.fitting_id JOIN patients p ON p.id = f.patient_id
          WHERE d.clinic_id = ? AND d.kind = ? AND d.due_on <= ? AND f.ended_at IS NULL
          ORDER BY d.due_on, d.fitting_id, d.key LIMIT ?
        SQL
        private_constant :SOON

        # Forgets a clinic's, to be made anew.
        def clear(clinic) = Store.db[:fitting_dues].where(clinic_id: clinic.id).delete

        # A visit's rows as they would be made now.
        def rows_of(visit)
          owner = { clinic_id: visit.clinic.id, fitting_id: visit.fitting.id, visit_id: visit.id }
          (parts(visit) + sizes(visit)).map { |row| { **owner, **row } }
        end

        # Whether what is kept of a fitting is what would be made now; of one that has ended, nothing
        # is shown.
        def kept?(visit)
          return true if visit.fitting.ended_at

          made = visit.patient.practice ? [] : rows_of(latest_of(visit))
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
            { kind: "part", key: due.part.key, label: due.part.label, due_on: due.due }
          end
        end

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

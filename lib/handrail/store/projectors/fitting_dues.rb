# frozen_string_literal: true

module Handrail
  module Store
    module Projectors
      # What of a running fitting is due when: parts to renew, the day on which the size that is worn
      # ends at this rate, and from when something stands that should not wait, see
      # Handrail::Visit::ConcernWork. For the board.
      class FittingDues < Projector
        keeps :fitting_dues, keys: %i[kind key], values: %i[label side course due_on visit_id]
        reads :hand_overs,
              :part_renewals,
              :readings,
              :size_choices,
              :issued_devices,
              :changes,
              :check_results,
              :steps_done,
              :slip_returns,
              :skin_findings,
              :strap_settings,
              :order_corrections,
              :side_ends

        class << self
          # What `soon` is asked with, beside the clinic. wanted - kind => [last day, moment]: what is due up to that
          # day, of fittings with no visit booked from `from` until that moment
          def asked(wanted, from:)
            wanted.reduce({ from: from }) do |all, (kind, (day, moment))|
              all.merge("#{kind}_day": day, "#{kind}_moment": moment || from)
            end
          end

          # The first rows of a clinic of each kind, with the wearer's names and, of the fitting's next visit, its id
          # and what it is booked for, as a dataset with placeholders. most - of each
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
            SELECT due.*, p.given_name, p.family_name, n.id AS next_visit, n.planned_for
            FROM :windows AS wanted (kind, until_day, until_moment)
            CROSS JOIN LATERAL (
              SELECT d.*, f.patient_id FROM fitting_dues d JOIN fittings f ON f.id = d.fitting_id
                JOIN patients r ON r.id = f.patient_id AND r.rest IS NULL
              WHERE NOT EXISTS (
                  SELECT 1 FROM visits b WHERE b.fitting_id = d.fitting_id AND b.planned_for >= :from
                  AND b.planned_for < wanted.until_moment AND b.closed_at IS NULL AND b.called_off_at IS NULL)
                AND d.clinic_id = :clinic AND d.kind = wanted.kind AND d.due_on <= wanted.until_day
                AND f.ended_at IS NULL
              ORDER BY d.due_on, d.fitting_id, d.key LIMIT :most) AS due
            JOIN patients p ON p.id = due.patient_id
            LEFT JOIN LATERAL (
              SELECT v.id, v.planned_for FROM visits v WHERE v.fitting_id = due.fitting_id AND v.opened_at IS NULL
                AND v.closed_at IS NULL AND v.called_off_at IS NULL
              ORDER BY v.planned_for NULLS LAST, v.number LIMIT 1) AS n ON true
            ORDER BY due.kind, due.due_on, due.fitting_id, due.key
          SQL
          private_constant :SOON
        end

        # Of the last visit at which something was written; nothing before the hand-over, and nothing
        # once the fitting has ended.
        def rows
          visit = visits.reverse.find(&:opened_at) || newest
          return [] if fitting.ended_at || !visit.handed_over?

          (parts(visit) + sizes(visit) + concerns(visit)).map do |row|
            { visit_id: visit.id, **row }
          end
        end

        private

        def owner(_row) = { clinic_id: clinic.id, fitting_id: fitting.id }

        def parts(visit)
          visit.wear.part_dues.map do |due|
            {
              kind: "part",
              key: [due.part.key, due.side].compact.join(":"),
              label: due.part.label,
              side: due.side,
              due_on: due.due
            }
          end
        end

        # what should not wait, with the day from which it stands
        def concerns(visit)
          visit.concerns.all.map do |one|
            {
              kind: one.kind.to_s,
              key: [one.key, one.side].compact.join(":"),
              label: one.label,
              side: visit.said_side(one.side),
              course: one.course,
              due_on: one.since
            }
          end
        end

        # the earliest day on which a girth comes to the edge of the size, one a side
        def sizes(visit)
          return [] unless visit.handed_over?

          visit.sides.filter_map do |side|
            ending =
              visit
                .trend
                .courses(side)
                .select { |course| course.crossing.on }
                .min_by { |course| course.crossing.on }
            next unless ending

            {
              kind: "size",
              key: side.to_s,
              label: ending.size,
              side: visit.said_side(side),
              due_on: ending.crossing.on
            }
          end
        end
      end
    end
  end
end

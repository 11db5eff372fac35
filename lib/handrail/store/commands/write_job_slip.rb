# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Sends work away to the workshop or the maker: what is to be done, with the measures and marks
      # as they stand, and when it is due. Until it is back nothing is taught or handed over.
      #
      #   WriteJobSlip.new("doer" => "workshop", "what" => "Rivet hole 12 mm lower", "due_on" => "3 Dec 2026")
      #
      # problem, remedy - of the change that it belongs to, where it does; side - whose device. Once
      # it is back, the checks that the remedy names open again, all of them where it names none.
      class WriteJobSlip < VisitCommand
        input :doer, :one_of, of: %w[workshop maker], missing: "Say who does it: workshop or maker."
        input :what,
              :text,
              most: 300,
              missing: "Say what is to be done, for example: rivet hole 12 mm lower."
        input :measures, :line, most: 1000
        input :due_on, :day
        input :side, :key
        input :problem, :key
        input :remedy, :key

        def topic = "slip:#{side}"

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          if due_on < visit.clinic.today
            unacceptable("due_on", "That day has passed. Write the day on which it is to be back.")
          end

          Decision.insert(
            with_side(visit, own, "to the #{doer}: #{what}, due #{Quantity::Day.write(due_on)}"),
            job_slips: {
              fitting_id: visit.fitting.id,
              side: own,
              doer: doer,
              what: what,
              measures: measures,
              due_on: due_on,
              marks: Store.json(marks(visit, own)),
              opens: Store.json(opens(visit)),
              problem: problem,
              remedy: remedy
            }
          )
        end

        private

        # label => value, as the settings stand on the day
        def marks(visit, own)
          visit.settings(own).filter_map { |field, row| [field.label, field.say(row)] if row }.to_h
        end

        def opens(visit)
          named = visit.family.problem(problem)&.remedies&.find { |one| one.key == remedy }
          keys = visit.family.checks(visit.config).map(&:key)
          found = named&.opens.to_a & keys
          found.any? ? found : keys
        end
      end
    end
  end
end

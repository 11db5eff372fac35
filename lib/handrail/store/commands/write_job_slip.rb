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
        input :doer, :one_of, of: %w[workshop maker], missing: t(:say_who_does_workshop)
        input :what, :text, most: 300, missing: t(:say_what_done_example)
        input :measures, :line, most: 1000
        input :due_on, :day
        input :side, :key
        input :problem, :key
        input :remedy, :key

        def topic = "slip:#{side}"

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          unacceptable("due_on", t(:back_day_has_passed)) if due_on < visit.clinic.today

          Decision.insert(
            with_side(
              visit,
              own,
              t(:to_the_due, doer: doer, what: what, due_on: Quantity::Day.write(due_on))
            ),
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
          visit
            .fit
            .settings(own)
            .filter_map { |field, row| [field.label, field.say(row)] if row }
            .to_h
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

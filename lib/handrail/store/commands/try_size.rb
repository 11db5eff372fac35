# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What was seen with a trial size on the body.
      #
      #   TrySize.new("size" => "42", "outcome" => "good", "side" => "left")
      class TrySize < VisitCommand
        OUTCOMES = Wording.names("trial_outcomes")

        input :size, :text, most: 120, missing: t(:choose_trial_size)
        input :outcome, :one_of, of: OUTCOMES.keys, missing: t(:say_what_you_see)
        input :side, :key

        def topic = "trial:#{side}"
        def watch = [/\Atrial:/, /\Asize/]

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          unacceptable("size", t(:choose_trial_size)) unless visit.pin.chart&.names&.include?(size)

          Decision.insert(
            [own, t(:trial_size, size: size, outcome: OUTCOMES.fetch(outcome))].compact.join(" "),
            size_trials: {
              side: own,
              size: size,
              outcome: outcome
            }
          )
        end
      end
    end
  end
end

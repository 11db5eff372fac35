# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Ticks a step of preparing or applying the device. The first strap is enforced; another order
      # of the rest is allowed and noted. The checks that the step touches open again.
      #
      #   FinishStep.new("step" => "strap_calf", "side" => "left")
      class FinishStep < VisitCommand
        include ForGood

        input :step, :key, missing: "Name the step."
        input :side, :key

        def topic = "step:#{side}:#{step}"
        def rests_on(visit) = [:steps_done, { side: side_of(visit, side) }]

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          applying = visit.applying(own)
          found = applying.steps.find { |one| one.key == step } or
            unacceptable("step", "There is no such step here.")
          held = applying.held_by(found)
          unacceptable("step", Wording.goes_first(held)) if held
          return nil if applying.done?(found)

          surely!(visit, found, own)

          note = Wording.order_swapped(found, applying.skipped(found))
          Decision.insert(
            with_side(visit, own, "#{visit.fill(found.title)}#{" (#{note})" if note}"),
            steps_done: {
              side: own,
              step: step,
              note: note
            }
          )
        end
      end
    end
  end
end

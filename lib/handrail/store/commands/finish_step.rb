# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Ticks a step of preparing or applying the device. The first strap is enforced; another order
      # of the rest is allowed and noted. The checks that the step touches open again.
      #
      #   FinishStep.new("step" => "strap_calf", "side" => "left")
      #
      # Who puts a device on in one go ticks what follows together, see Ways and Applying#together:
      #
      #   FinishStep.new("step" => "strap_calf", "through" => "strap_shin", "side" => "left")
      class FinishStep < VisitCommand
        include ForGood

        input :step, :key, missing: t(:name_step)
        input :side, :key
        input :through, :key, default: nil

        def authorize!(account)
          super
          return if through.nil? || Ways.on?(account, "one_go")

          unacceptable("step", Wording.t("not_kept.one_go"))
        end

        def topic = "step:#{side}:#{step}"
        def rests_on(visit) = [:steps_done, { side: side_of(visit, side) }]

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          applying = visit.fit.applying(own)
          found = applying.steps.find { |one| one.key == step } or
            unacceptable("step", t(:no_such_step_here))
          held = applying.held_by(found)
          unacceptable("step", Wording.goes_first(held)) if held
          return nil if applying.done?(found)
          return in_one_go(visit, applying, found, own) if through

          looked_first!(visit, applying, found, own)
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

        private

        # who is lifted, or stands on a lock, is looked at before
        def looked_first!(visit, applying, found, own)
          unlooked = applying.unlooked(found, visit.fit.checklist(own)).first or return
          unacceptable(
            "step",
            Wording.t(
              "steps.look_first",
              step: visit.fill(found.title),
              check: visit.fill(unlooked.check.title)
            )
          )
        end

        # from the step to the last one named, each with a row of its own
        def in_one_go(visit, applying, found, own)
          steps = applying.together(Families::Hazards.steps_apart(visit.family))
          last = steps.index { |one| one.key == through }
          unacceptable("step", t(:these_not_ticked_together)) unless steps.first == found && last

          done = steps.first(last + 1)
          titles = done.map { |one| visit.fill(one.title) }.join("; ")
          Decision.of(
            with_side(visit, own, t(:in_one_go_of, titles: titles)),
            rows:
              done.map { |one| [:steps_done, { side: own, step: one.key, note: t(:in_one_go) }] }
          )
        end
      end
    end
  end
end

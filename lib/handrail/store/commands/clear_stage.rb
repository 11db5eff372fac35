# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Goes on to the next stage of a device that is opened step by step, or back to an earlier one:
      # with the name of who said that it may be. One step at a time; never under a stop sign. Of two devices it says
      # of which.
      #
      #   ClearStage.new("stage" => "range_10", "cleared_by" => "Dr Lowe, vet", "agreed" => "two weeks, then a look")
      #   ClearStage.new("stage" => "weaning", "cleared_by" => "Dr Tamsin", "hours" => "4", "side" => "left")
      class ClearStage < VisitCommand
        input :stage, :key, missing: t(:choose_stage)
        input :side, :key
        input :cleared_by, :text, most: 120, missing: t(:write_who_cleared_without)
        input :agreed, :line, most: 300
        input :hours, :line, most: 12

        def topic = "stage:#{side}"

        def decide(visit)
          pass!(visit)
          to = visit.wear.stages.find { |one| one.key == stage } or
            unacceptable("stage", t(:device_has_no_such))
          own = named_side(visit, side)
          step!(visit, own, to)
          said = [
            t(:cleared_by, label: to.label, cleared_by: cleared_by),
            (Wording.hours_a_day(a_day) if a_day)
          ].compact.join(", ")
          Decision.insert(
            with_side(visit, own, "#{said}#{": #{agreed}" if agreed}"),
            stage_clearances: {
              stage: to.key,
              side: own,
              cleared_by: cleared_by,
              agreed: agreed,
              hours: a_day && Store.numeric(a_day)
            }
          )
        end

        private

        # hours a day that were agreed, or nil
        def a_day
          return unless hours

          number = Families::Number.read(hours)
          return number if number&.between?(Rational(1, 4), 24)

          unacceptable("hours", t(:no_number_hours_day, hours: hours))
        end

        def step!(visit, own, to)
          here = visit.wear.stage(own)
          # where nobody had said a stage, any may be the first
          by = here ? visit.wear.stages.index(to) - visit.wear.stages.index(here) : 1
          unacceptable("stage", t(:stands_already, label: to.label)) if by.zero?
          if by > 1
            unacceptable("stage", t(:one_step_time_comes, label: visit.wear.next_stage(own).label))
          end
          return if by.negative?
          unless visit.handed_over?
            unacceptable("stage", t(:not_before_handed_over, label: (here || to).label))
          end
          return if visit.body.skin_waiting.empty?

          unacceptable("stage", t(:look_first_skin_marked))
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Goes on to the next stage of a device that is opened step by step, or back to an earlier one:
      # with the name of who said that it may be. One step at a time; never under a stop sign.
      #
      #   ClearStage.new("stage" => "range_10", "cleared_by" => "Dr Lowe, vet", "agreed" => "two weeks, then a look")
      #   ClearStage.new("stage" => "weaning", "cleared_by" => "Dr Tamsin", "hours" => "4")
      class ClearStage < VisitCommand
        input :stage, :key, missing: "Choose the stage."
        input :cleared_by,
              :text,
              most: 120,
              missing: "Write who cleared it: without their word the device stays as it is."
        input :agreed, :line, most: 300
        input :hours, :line, most: 12

        def topic = "stage"

        def decide(visit)
          pass!(visit)
          to = visit.stages.find { |one| one.key == stage } or
            unacceptable("stage", "This device has no such stage.")
          step!(visit, to)
          said = [
            "#{to.label}, cleared by #{cleared_by}",
            (Wording.hours_a_day(a_day) if a_day)
          ].compact.join(", ")
          Decision.insert(
            "#{said}#{": #{agreed}" if agreed}",
            stage_clearances: {
              stage: to.key,
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

          unacceptable("hours", "“#{hours}” is no number of hours a day. Write it like 4 or 1.5.")
        end

        def step!(visit, to)
          by = visit.stages.index(to) - visit.stages.index(visit.stage)
          unacceptable("stage", "It stands at #{to.label} already.") if by.zero?
          if by > 1
            unacceptable("stage", "One step at a time: #{visit.next_stage.label} comes next.")
          end
          return if by.negative?
          unless visit.handed_over?
            unacceptable("stage", "Not before it was handed over at #{visit.stage.label}.")
          end
          return if visit.skin_waiting.empty?

          unacceptable("stage", "Look first at the skin that was marked before.")
        end
      end
    end
  end
end

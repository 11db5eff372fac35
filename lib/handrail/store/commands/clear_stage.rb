# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Goes on to the next stage of a device that is opened step by step, or back to an earlier one:
      # with the name of who said that it may be. One step at a time; never under a stop sign.
      #
      #   ClearStage.new("stage" => "range_10", "cleared_by" => "Dr Lowe, vet", "agreed" => "two weeks, then a look")
      class ClearStage < VisitCommand
        input :stage, :key, missing: "Choose the stage."
        input :cleared_by,
              :text,
              most: 120,
              missing: "Write who cleared it: without their word the device stays as it is."
        input :agreed, :line, most: 300

        def topic = "stage"

        def decide(visit)
          pass!(visit, :measure)
          to = visit.stages.find { |one| one.key == stage } or
            unacceptable("stage", "This device has no such stage.")
          step!(visit, to)
          Decision.insert(
            "#{to.label}, cleared by #{cleared_by}#{": #{agreed}" if agreed}",
            stage_clearances: {
              stage: to.key,
              cleared_by: cleared_by,
              agreed: agreed
            }
          )
        end

        private

        def step!(visit, to)
          by = visit.stages.index(to) - visit.stages.index(visit.stage)
          unacceptable("stage", "It stands at #{to.label} already.") if by.zero?
          if by > 1
            unacceptable("stage", "One step at a time: #{visit.next_stage.label} comes next.")
          end
          return if by.negative? || visit.handed_over?

          unacceptable("stage", "Not before it was handed over at #{visit.stage.label}.")
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Followup
    # The planned rechecks of a fitting, counted from its first hand-over whatever was given out since. Used for what
    # was pinned before a new device was looked at as early as the first.
    module PlanOfFitting
      # planned, handed_over, done - see Plan.next. Returns the next Window or nil.
      def self.next(planned, handed_over:, done: [], **)
        Plan.next(planned, handed_over: handed_over, done: done)
      end
    end
  end
end

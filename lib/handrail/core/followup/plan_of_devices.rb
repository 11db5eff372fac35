# frozen_string_literal: true

module Handrail
  module Followup
    # The planned rechecks of a fitting, counted for each side from the day on which its device was handed over: one
    # that a recheck gave out is looked at as early as the first was (our choice, common practice without a source).
    # Of a pair the one that is due first says when both are looked at. Who came late has not missed another one by it.
    module PlanOfDevices
      # planned, done - see Plan.next; handed_over - the first hand-over, a Date; given - side => the Date on which its
      # device was handed over, empty at the first. Returns the next Window or nil.
      def self.next(planned, handed_over:, given: {}, done: [])
        days = given.empty? ? [handed_over] : given.values.uniq
        days
          .filter_map do |day|
            since = done.select { |held| held > day }
            Plan.next(planned, handed_over: day, done: since, passed_over: true)
          end
          .min_by(&:to)
      end
    end
  end
end

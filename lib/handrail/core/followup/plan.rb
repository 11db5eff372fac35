# frozen_string_literal: true

module Handrail
  module Followup
    # The family's planned rechecks as dates.
    #
    # A recheck that is held much too early does not stand for the planned one: it shows nothing of what
    # days of wear do. It counts from half the way to the window on (our choice, common practice without
    # a source), and one a day.
    module Plan
      # planned - Families::PlannedRecheck, fixed ones first; handed_over - a Date; done - Dates of
      # the rechecks held, oldest first; passed_over - whether one that was held late stands for every window
      # that had ended by then. Returns the next Window, or nil when the plan is at its end.
      def self.next(planned, handed_over:, done: [], passed_over: false)
        fixed = planned.reject(&:every_days)
        left = fixed.drop(counted(fixed, handed_over, done))
        left = left.drop_while { |item| ended?(item, handed_over, done) } if passed_over
        if (item = left.first)
          return(
            Window[
              key: item.key,
              label: item.label,
              from: handed_over + item.from_days,
              to: handed_over + item.to_days
            ]
          )
        end

        rhythm = planned.find(&:every_days) or return
        from = (done.last || handed_over) + rhythm.every_days
        Window[key: rhythm.key, label: rhythm.label, from: from, to: from + rhythm.slack_days]
      end

      # how many of the fixed ones were held
      def self.counted(fixed, handed_over, done)
        done
          .uniq
          .reduce(0) do |count, day|
            item = fixed[count] or break count
            day >= handed_over + (item.from_days / 2.0).ceil ? count + 1 : count
          end
      end
      private_class_method :counted

      def self.ended?(item, handed_over, done) = done.any? && done.last > handed_over + item.to_days
      private_class_method :ended?
    end
  end
end

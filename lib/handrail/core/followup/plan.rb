# frozen_string_literal: true

module Handrail
  module Followup
    # The family's planned rechecks as dates.
    module Plan
      # planned - Families::PlannedRecheck, fixed ones first; handed_over - a Date; done - Dates of
      # the rechecks held, oldest first. Returns the next Window, or nil when the plan is at its
      # end.
      def self.next(planned, handed_over:, done: [])
        fixed = planned.reject(&:every_days)
        if (item = fixed[done.size])
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
    end
  end
end

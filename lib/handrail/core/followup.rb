# frozen_string_literal: true

require "date"

module Handrail
  # Follow-up: when to look again, and what has changed since.
  module Followup
    # A window in which a recheck is due.
    Window =
      Value.new(:key, :label, :from, :to) do
        # state on a day: :early, :due or :overdue
        def state(today)
          return :early if today < from

          today > to ? :overdue : :due
        end
      end
  end
end

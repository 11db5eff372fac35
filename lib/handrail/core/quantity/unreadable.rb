# frozen_string_literal: true

module Handrail
  module Quantity
    # What was typed is no quantity of its kind; the message shows a form that is accepted. Each quantity has its own.
    class Unreadable < Handrail::Error
    end
  end
end

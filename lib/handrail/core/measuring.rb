# frozen_string_literal: true

module Handrail
  # Readings of a tape: repeats, precision, plausibility.
  module Measuring
  end
end

# frozen_string_literal: true

module Handrail
  module Measuring
    # The normal distribution.
    module Normal
      ROOT_TWO = Math.sqrt(2)

      # Phi(z): the share of a standard normal below z.
      def self.phi(z) = 0.5 * Math.erfc(-z / ROOT_TWO)

      # The share of a normal with this mean and standard deviation that lies in [min, max].
      def self.between(min, max, mean:, sd:)
        low = (min - mean) / sd
        high = (max - mean) / sd
        # in the upper tail the complement keeps its digits
        low.positive? ? phi(-low) - phi(-high) : phi(high) - phi(low)
      end
    end
  end
end

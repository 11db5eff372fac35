# frozen_string_literal: true

module Handrail
  # What a clinic's own outcomes say of its charts, and of what Handrail said.
  module Learning
    # two-sided 95 % point of the standard normal
    Z = 1.959963984540054

    # The interval of a share seen k times in n (Wilson's score interval: E. B. Wilson, Journal of the
    # American Statistical Association 22, 1927), [low, high], 0 to 1; [0, 1] where nothing was seen.
    def self.wilson(seen, count)
      return 0.0, 1.0 if count.zero?

      share = seen.to_f / count
      z2 = Z * Z / count
      middle = (share + (z2 / 2)) / (1 + z2)
      half = Z * Math.sqrt(((share * (1 - share)) / count) + (z2 / (4 * count))) / (1 + z2)
      [[middle - half, 0.0].max, [middle + half, 1.0].min]
    end
  end
end

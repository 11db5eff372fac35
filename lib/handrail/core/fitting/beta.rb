# frozen_string_literal: true

module Handrail
  module Fitting
    # Two chances of which only counts are known, as beta distributions.
    module Beta
      # strips of the midpoint rule over (0, 1)
      STRIPS = 2000

      class << self
        # The chance that X lies above Y, X from beta(a, b), Y from beta(c, d), independent: the
        # integral of X's density times the share of Y below it, strip by strip; half of Y's own
        # strip lies below. a, b, c, d - 1 or more. Good to about 1e-5.
        def chance_above(a, b, c, d)
          above = densities(a, b)
          below = densities(c, d)
          passed = 0.0
          sum =
            above
              .zip(below)
              .sum do |x, y|
                passed += y
                x * (passed - (y / 2))
              end
          sum / (above.sum * below.sum)
        end

        private

        # at the middle of each strip, up to a factor
        def densities(a, b)
          logs =
            Array.new(STRIPS) do |i|
              x = (i + 0.5) / STRIPS
              ((a - 1) * Math.log(x)) + ((b - 1) * Math.log(1 - x))
            end
          highest = logs.max
          logs.map { |log| Math.exp(log - highest) }
        end
      end
    end
  end
end

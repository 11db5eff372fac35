# frozen_string_literal: true

module Handrail
  module Measuring
    # Student's t distribution.
    module Student
      ENOUGH = 1e-15
      # quantiles that were found
      KNOWN = Memory.new(500)
      private_constant :KNOWN

      class << self
        # The value that a t of so many degrees of freedom stays below with this probability (0.5 <
        # p < 1).
        def quantile(probability, freedom)
          KNOWN.remember([probability, freedom]) { solve(probability, freedom) }
        end

        # The share of a t distribution below a value that is not negative.
        def below(value, freedom)
          1 - (beta(freedom / (freedom + (value * value)), freedom / 2.0, 0.5) / 2)
        end

        private

        # by halving: the interval is doubled until it holds the value
        def solve(probability, freedom)
          high = 1.0
          high *= 2 while below(high, freedom) < probability
          low = 0.0
          200.times do
            middle = (low + high) / 2
            return middle if middle == low || middle == high

            below(middle, freedom) < probability ? low = middle : high = middle
          end
          (low + high) / 2
        end

        # The regularised incomplete beta function by its continued fraction (NIST Digital Library
        # of Mathematical Functions, 8.17.22), in Lentz's form.
        def beta(x, a, b)
          return 0.0 if x <= 0
          return 1.0 if x >= 1
          return 1 - part(1 - x, b, a) if x > (a + 1) / (a + b + 2)

          part(x, a, b)
        end

        # where the fraction converges fast: x up to (a + 1) / (a + b + 2)
        def part(x, a, b)
          gammas = Math.lgamma(a + b)[0] - Math.lgamma(a)[0] - Math.lgamma(b)[0]
          Math.exp((a * Math.log(x)) + (b * Math.log(1 - x)) + gammas) / a / fraction(x, a, b)
        end

        def fraction(x, a, b)
          whole = c = 1.0
          d = 0.0
          (1..10_000).each do |n|
            term = term(n, x, a, b)
            d = 1 / (1 + (term * d))
            c = 1 + (term / c)
            whole *= c * d
            break if ((c * d) - 1).abs < ENOUGH
          end
          whole
        end

        def term(n, x, a, b)
          m = n / 2
          return m * (b - m) * x / ((a + n - 1) * (a + n)) if n.even?

          -(a + m) * (a + b + m) * x / ((a + n - 1) * (a + n))
        end
      end
    end
  end
end

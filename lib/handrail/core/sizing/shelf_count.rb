# frozen_string_literal: true

module Handrail
  module Sizing
    # How many of a size to keep: fittings come as a Poisson stream, and the shelf is to run out
    # with no more than a stated chance before it is filled again.
    module ShelfCount
      # The largest mean that is reckoned with.
      MOST = 10_000

      # The chance that a Poisson variable with this mean is at most n. In logarithms, so that a
      # large mean is no zero.
      def self.at_most(n, mean)
        return 1.0 if mean.zero?

        (0..n)
          .sum { |i| Math.exp((i * Math.log(mean)) - mean - Math.lgamma(i + 1).first) }
          .clamp(0.0, 1.0)
      end

      # The smallest stock for which running out has at most this chance. mean - expected fittings
      # of the size until the shelf is filled again; risk - between 0 and 1. Raises ArgumentError.
      def self.for(mean, risk:)
        raise ArgumentError, "a risk lies between 0 and 1" unless risk.positive? && risk < 1

        raise ArgumentError, "a mean lies between 0 and #{MOST}" unless mean.between?(0, MOST)
        return 0 if mean.zero?

        (0..).inject(0.0) do |sum, i|
          sum += Math.exp((i * Math.log(mean)) - mean - Math.lgamma(i + 1).first)
          break i if 1 - sum <= risk || i > mean + (40 * Math.sqrt(mean)) + 40

          sum
        end
      end

      # size => stock, for so many fittings a month. shares - size => share of the fittings.
      def self.shelf(shares, fittings:, risk:)
        shares.transform_values { |share| self.for(share * fittings, risk: risk) }
      end
    end
  end
end

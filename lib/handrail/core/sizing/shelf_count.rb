# frozen_string_literal: true

module Handrail
  module Sizing
    # How many of a size to keep: fittings come as a Poisson stream, and the shelf is to run out with no more than a stated
    # chance before it is filled again.
    module ShelfCount
      # The chance that a Poisson variable with this mean is at most n.
      def self.at_most(n, mean)
        term = Math.exp(-mean)
        (1..n).inject(term) { |sum, i| sum + (term *= mean / i) }
      end

      # The smallest stock for which running out has at most this chance. mean - expected fittings of the size until the shelf
      # is filled again; risk - between 0 and 1. Raises ArgumentError.
      def self.for(mean, risk:)
        raise ArgumentError, "a risk lies between 0 and 1" unless risk.positive? && risk < 1

        n = 0
        n += 1 while 1 - at_most(n, mean.to_f) > risk
        n
      end

      # size => stock, for so many fittings a month. shares - size => share of the fittings.
      def self.shelf(shares, fittings:, risk:) = shares.transform_values { |share| self.for(share * fittings, risk: risk) }
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Measuring
    # How well one fitter repeats one site, from pairs of readings taken one after the other: the
    # technical error of measurement, TEM = sqrt(sum d^2 / 2n), and its share of the mean (Perini TA
    # et al., Rev Bras Med Esporte 11, 2005).
    #
    # count - pairs; squares - sum of the squared differences in mm2; mean - of all readings in mm
    Repeatability =
      Value.new(:count, :squares, :mean) do
        # pairs - [[first, second], ...] in mm; not empty.
        def self.of(pairs)
          raise ArgumentError, "no pairs" if pairs.empty?

          new(
            count: pairs.size,
            squares: pairs.sum { |a, b| (a - b)**2 }.to_f,
            mean: pairs.flatten.sum.to_f / (2 * pairs.size)
          )
        end

        # From 10 pairs on it stands in for the usual 1 %.
        def enough? = count >= 10

        # in mm
        def tem = Math.sqrt(squares / (2 * count))

        # in % of the mean
        def relative = 100 * tem / mean

        # As a share, for Precision.
        def share = relative / 100

        # How it stands beside a practised hand: :few (not enough pairs yet), :alike, :near or
        # :often. Acceptable within one measurer, not skinfolds: 1.0 % skilled, 1.5 % beginner (the
        # same paper, from memory).
        def finding
          return :few unless enough?
          return :alike if relative <= 1.0

          relative <= 1.5 ? :near : :often
        end
      end
  end
end

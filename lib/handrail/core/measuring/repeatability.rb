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

        # In kind words. Acceptable within one measurer, not skinfolds: 1.0 % skilled, 1.5 % beginner
        # (the same paper, from memory).
        def sentence
          unless enough?
            return(
              "#{count} #{count == 1 ? "pair" : "pairs"} so far; from 10 on this stands in for the usual 1 %."
            )
          end
          return "Reads alike, as a practised hand does." if relative <= 1.0
          if relative <= 1.5
            return(
              "Near what a practised hand reaches. Marking the level on the skin first helps most."
            )
          end

          "The two readings often differ here. Mark the level, lay the tape square, read it twice; perhaps look " \
            "at it together with a colleague."
        end
      end
  end
end

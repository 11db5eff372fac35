# frozen_string_literal: true

module Handrail
  module Measuring
    # The repeats of one reading, brought to the one value that is used: one as it is, two their
    # mean, three or more their median (ISAK protocol, from memory). Two that differ by more than 1
    # % of their mean, or by more than the tape's resolution if that is larger, want a third.
    class Repeats
      TOLERANCE = Rational(1, 100)
      # Standard deviation of a single girth reading, as a share of the value: the relative
      # technical error of a skilled measurer (Perini TA et al., Rev Bras Med Esporte 11, 2005; 1.0
      # %, from memory).
      RELATIVE_SD = 0.01

      # values - of all readings, exact, in mm; count - how many there are; mm - the value used, exact
      attr_reader :values, :count, :mm

      # lengths - the readings that count, as Lengths, in the order taken; resolution - the tape's,
      # as a Length.
      def initialize(lengths, resolution:)
        raise ArgumentError, "no readings" if lengths.empty?

        @values = lengths.map(&:mm)
        @step = resolution.mm
        @count = values.size
        @mm = count == 2 ? values.sum / 2 : median
        freeze
      end

      def length = Quantity::Length.mm(mm)

      # The same with one more reading that agrees.
      def again
        Repeats.new(
          [*values, mm].map { |value| Quantity::Length.mm(value) },
          resolution: Quantity::Length.mm(@step)
        )
      end

      # How far the furthest two lie apart, in mm.
      def spread = values.max - values.min

      # The largest difference between two readings that is still agreement, in mm.
      def tolerance = [(values.sum / count) * TOLERANCE, @step].max

      # False for two readings that differ by more than the tolerance; three or more are settled by
      # their median.
      def agree? = count != 2 || spread <= tolerance

      # Standard deviation of the value used, in mm (Float): 1 % of it over the root of the count,
      # and no less than the tape's rounding error, its resolution over the root of 12.
      def sd(relative: RELATIVE_SD)
        [mm.to_f * relative / Math.sqrt(count), @step / Math.sqrt(12)].max
      end

      # What to do next: :twice, :third, or nil when nothing is wanted.
      def wish
        return :twice if count == 1

        :third unless agree?
      end

      private

      def median
        sorted = values.sort
        middle = count / 2
        count.odd? ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
      end
    end
  end
end

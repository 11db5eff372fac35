# frozen_string_literal: true

module Handrail
  module Followup
    # How a value changes with time: a straight line by least squares with its 95 % interval
    # (Student's t with n - 2 degrees of freedom), and when that line, and the band round it, comes
    # to an edge.
    #
    # The sums are exact; only the residual's root and t are Floats.
    class Trend
      LEAST_DAYS = 3
      # how far ahead it looks, in days after the last reading
      AHEAD = 730
      CONFIDENCE = 0.975

      # What comes of an edge. edge - :upper, :lower or nil; on, earliest, latest - Dates or nil:
      # when the line is at or past it, and when the nearer and the farther bound of its confidence
      # band are.
      Crossing = Value.new(:edge, :on, :earliest, :latest)

      attr_reader :count, :last

      # points - [[Date, value], ...] in any order, values exact
      def initialize(points)
        @count = points.size
        @first, @last = points.map(&:first).minmax
        @points = points.map { |date, value| [Rational((date - @first).to_i), Rational(value)] }
        @days = points.map(&:first).uniq.size
        fit unless too_few?
      end

      def too_few? = @days < LEAST_DAYS

      # The points it was made from, [[Date, exact value], ...], the earliest first.
      def points = @points.map { |days, value| [@first + days.to_i, value] }.sort_by(&:first)

      # Change a day, exact.
      attr_reader :slope

      # 95 % interval of the slope, [low, high].
      def interval
        half = t * @residual / Math.sqrt(@spread)
        [slope - half, slope + half]
      end

      # :too_few, :rising, :falling or :steady
      def verdict
        return :too_few if too_few?

        low, high = interval
        return :rising if low.positive?

        high.negative? ? :falling : :steady
      end

      # The line on a day.
      def at(date) = line((date - @first).to_i)

      # Its confidence band on a day: [low, high].
      def band(date)
        x = (date - @first).to_i
        half = half_band(x)
        [line(x) - half, line(x) + half]
      end

      # When the line comes to an edge: a rising one to the upper, a falling one to the lower.
      # Returns a Crossing.
      def crossing(lower: nil, upper: nil)
        rising = { rising: true, falling: false }[verdict]
        edge = rising ? upper : lower
        return Crossing[] if rising.nil? || edge.nil?

        name = rising ? :upper : :lower
        return Crossing[edge: name, on: @last] if past?(at(@last), edge, rising)

        on = ahead.find { |date| past?(at(date), edge, rising) } or return Crossing[edge: name]
        earliest, latest =
          [rising ? 1 : 0, rising ? 0 : 1].map do |bound|
            ahead.find { |date| past?(band(date)[bound], edge, rising) }
          end
        Crossing[edge: name, on: on, earliest: earliest, latest: latest]
      end

      private

      def fit
        @middle = @points.sum(&:first) / count
        height = @points.sum(&:last) / count
        @spread = @points.sum { |x, _| (x - @middle)**2 }
        @slope = @points.sum { |x, y| (x - @middle) * (y - height) } / @spread
        @intercept = height - (@slope * @middle)
        left = @points.sum { |x, y| (y - line(x))**2 }
        @residual = Math.sqrt(left / (count - 2))
      end

      def line(days) = @intercept + (@slope * days)
      def half_band(days) =
        t * @residual * Math.sqrt(Rational(1, count) + (((days - @middle)**2) / @spread))
      def t = @t ||= Measuring::Student.quantile(CONFIDENCE, count - 2)
      def past?(value, edge, rising) = rising ? value >= edge : value <= edge
      def ahead = (@last..(@last + AHEAD))
    end
  end
end

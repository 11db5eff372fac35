# frozen_string_literal: true

module Handrail
  module Quantity
    # A measuring tape: its unit and the smallest step that is read from it.
    #
    #   Tape["in 1/8"].print(Length.mm(365)) # => "14 3/8 in"
    class Tape
      attr_reader :key, :unit, :step

      def self.[](key)
        ALL.fetch(key) do
          raise Handrail::Error, "There is no tape “#{key}”. Use one of: #{ALL.keys.join(", ")}."
        end
      end

      # The mixed number 115/8 -> "14 3/8", reduced, without a unit.
      def self.mixed(number)
        whole, part = number.divmod(1)
        return whole.to_s if part.zero?

        fraction = "#{part.numerator}/#{part.denominator}"
        whole.zero? ? fraction : "#{whole} #{fraction}"
      end

      # unit - "cm" or "in"; step - the resolution, a Rational in that unit.
      def initialize(key, unit, step)
        @key = key
        @unit = unit
        @step = Rational(step)
        freeze
      end

      # The smallest step as a Length.
      def resolution = Length.mm(step * Length::MM_PER.fetch(unit))

      # The nearest mark on this tape, as a Length; a reading halfway between two marks goes to the
      # upper one.
      def nearest(length) = Length.mm(marks(length) * resolution.mm)

      # The figure read off, without a unit.
      def figure(length)
        number = marks(length) * step
        return Tape.mixed(number) if unit == "in"

        format("%.1f", number)
      end

      def print(length) = "#{figure(length)} #{unit}"

      # The same tape's way of writing in the other system, for a clinic that shows both.
      def name =
        if unit == "in"
          "inches, to #{Tape.mixed(step)} in"
        else
          "centimetres, to #{(step * 10).to_i} mm"
        end

      ALL =
        [
          new("cm 1 mm", "cm", "1/10"),
          new("cm 0.5", "cm", "1/2"),
          new("in 1/8", "in", "1/8"),
          new("in 1/4", "in", "1/4")
        ].to_h { |tape| [tape.key, tape] }.freeze
      DEFAULT = ALL.fetch("cm 1 mm")

      private

      def marks(length) = (length.in(unit) / step).then { |n| (n + Rational(1, 2)).floor }
    end
  end
end

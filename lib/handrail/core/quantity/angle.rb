# frozen_string_literal: true

module Handrail
  module Quantity
    # An exact angle in degrees.
    #
    #   Angle.parse("2,5°").degrees # => (5/2)
    class Angle
      include Comparable

      # What was typed is no angle; the message shows a form that is accepted.
      class Unreadable < Quantity::Unreadable
      end

      FORM = /\A(?<number>-?\d{1,3}(?:[.,]\d{1,3})?)\s*(?:°|deg|degrees?)?\z/i
      EXAMPLE = "Write it in degrees, like 4 or 2.5."

      attr_reader :degrees

      # text - as typed, with or without a sign for degrees. Returns an Angle; raises Unreadable,
      # also beyond a full turn.
      def self.parse(text)
        match = FORM.match(text.to_s[0, 40].strip) or
          raise Unreadable, "“#{text.to_s.strip[0, 20]}” can not be read as an angle. #{EXAMPLE}"
        angle = new(Rational(match[:number].tr(",", ".")))
        raise Unreadable, "#{angle} is more than a full turn. #{EXAMPLE}" if angle.degrees.abs > 360

        angle
      end

      # degrees - any exact number.
      def initialize(degrees)
        @degrees = Rational(degrees)
        freeze
      end

      def <=>(other) = other.is_a?(Angle) ? degrees <=> other.degrees : nil

      # "4°", "2.5°"
      def to_s = "#{format("%g", degrees.round(2).to_f)}°"
    end
  end
end

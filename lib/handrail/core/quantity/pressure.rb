# frozen_string_literal: true

module Handrail
  module Quantity
    # An exact pressure in mmHg. 1 mmHg = 133.322 Pa (NIST SP 811, 2008, appendix B).
    class Pressure
      include Comparable

      # What was typed is no pressure; the message shows a form that is accepted.
      class Unreadable < Quantity::Unreadable
      end

      PASCAL = Rational(133_322, 1000)
      EXAMPLE = "Write it like 128 or 17.1 kPa."

      attr_reader :mmhg

      # Raises Unreadable. Without a unit mmHg is meant.
      def self.parse(text)
        match =
          /\A(?<number>\d{1,4}(?:[.,]\d{1,3})?)\s*(?<unit>mm\s*hg|kpa)?\z/i.match(
            text.to_s.strip
          ) or
          raise Unreadable, "“#{text.to_s.strip[0, 20]}” can not be read as a pressure. #{EXAMPLE}"
        if match[:unit]&.downcase != "kpa" && match[:number].match?(/\A[1-9]\d{0,2}[.,]\d{3}\z/)
          raise Unreadable, "“#{match[:number]}” can be read two ways. #{EXAMPLE}"
        end

        number = Rational(match[:number].tr(",", "."))
        new(match[:unit]&.downcase == "kpa" ? number * 1000 / PASCAL : number)
      end

      def initialize(mmhg)
        @mmhg = Rational(mmhg)
        freeze
      end

      def pascal = mmhg * PASCAL
      def <=>(other) = other.is_a?(Pressure) ? mmhg <=> other.mmhg : nil
      def to_s = "#{mmhg.round} mmHg"
    end
  end
end

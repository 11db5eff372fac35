# frozen_string_literal: true

module Handrail
  module Fitting
    # What counts as good at a check: yes or no, or a quantity of one kind between limits.
    #
    #   slip = Criterion.read("kind" => "length", "under" => "10 mm")
    #   slip.good?(slip.parse("1/4 in")) # => true
    #   slip.to_s                        # => "under 10 mm"
    #
    # Values are Rationals in the base unit of the kind: mm, degrees, mmHg, pieces, points of 10,
    # seconds, kg.
    class Criterion
      # What was typed is no value of this kind; the message shows a form that is accepted.
      class Unreadable < Handrail::Error
      end

      LIMITS = %w[at_most under at_least over].freeze
      KINDS = %w[yes_no length angle pressure count score duration weight].freeze
      # what the field asks for, by kind
      UNITS = {
        "length" => "mm",
        "angle" => "degrees",
        "pressure" => "mmHg",
        "count" => "number",
        "score" => "0 to 10",
        "duration" => "min",
        "weight" => "kg"
      }.freeze

      attr_reader :kind, :limits

      # raw - the `pass` of a check in a family file: "kind", and where it is measured one or two of
      # LIMITS as texts. Raises Unreadable where a limit can not be read, ArgumentError for a kind
      # that is none.
      def self.read(raw)
        kind = raw.fetch("kind")
        raise ArgumentError, "there is no kind of check called #{kind}" unless KINDS.include?(kind)

        bare = new(kind, {})
        new(kind, raw.slice(*LIMITS).transform_values { |text| bare.parse(text) })
      end

      # kind - one of KINDS; limits - LIMITS key => Rational in the kind's base unit.
      def initialize(kind, limits)
        @kind = kind
        @limits = limits.freeze
        freeze
      end

      def measured? = kind != "yes_no"
      def unit = UNITS[kind]

      # What was typed, as a Rational in the base unit. Raises Unreadable.
      def parse(text)
        case kind
        when "length"
          Quantity::Length.parse(text, unit: "mm").mm
        when "angle"
          Quantity::Angle.parse(text).degrees
        when "pressure"
          Quantity::Pressure.parse(text).mmhg
        when "count"
          whole(text, 0..999)
        when "score"
          whole(text, 0..10)
        when "duration"
          Quantity::Duration.parse(text).seconds
        when "weight"
          weight(text)
        end
      rescue Quantity::Length::Unreadable,
             Quantity::Angle::Unreadable,
             Quantity::Pressure::Unreadable,
             Quantity::Duration::Unreadable => e
        raise Unreadable, e.message
      end

      # Whether a measured value lies within the limits.
      def good?(value)
        limits.all? do |name, limit|
          case name
          when "at_most"
            value <= limit
          when "under"
            value < limit
          when "at_least"
            value >= limit
          when "over"
            value > limit
          end
        end
      end

      # Where a value lies that is not good: "over" or "under" the limits; nil where it is good.
      def past(value)
        return if good?(value)

        over = limits.slice("at_most", "under").any? { |_, limit| value >= limit }
        over ? "over" : "under"
      end

      # The same kind with other limits. limits - see initialize
      def with(limits) = self.class.new(kind, limits)

      # A value as it is printed: "3 mm", "4°", "45 mmHg", "10 min", "7 of 10".
      def print(value)
        case kind
        when "length"
          Quantity::Length.mm(value).plain("mm")
        when "angle"
          Quantity::Angle.new(value).to_s
        when "pressure"
          Quantity::Pressure.new(value).to_s
        when "score"
          "#{value.to_i} of 10"
        when "weight"
          "#{Families::Number.print(value)} kg"
        when "duration"
          Quantity::Duration.new(value).to_s
        else
          value.to_i.to_s
        end
      end

      private

      def weight(text)
        number = Families::Number.read(text.to_s.sub(/\s*kg\z/i, ""))
        return number if number&.positive?

        raise Unreadable, "“#{text.to_s.strip[0, 20]}” is no weight in kg. Write it like 82.5."
      end

      def whole(text, range)
        number = Integer(text.to_s.strip[0, 6], 10, exception: false)
        return Rational(number) if number && range.cover?(number)

        raise Unreadable,
              "“#{text.to_s.strip[0, 20]}” is no whole number from #{range.min} to #{range.max}."
      end
    end
  end
end

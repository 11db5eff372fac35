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
      attr_reader :kind, :limits

      # raw - the `pass` of a check in a family file: "kind", and where it is measured one or two of
      # LIMITS as texts. Raises Unreadable where a limit can not be read, ArgumentError for a kind
      # that is none.
      def self.read(raw)
        bare = new(raw.fetch("kind"), {})
        bare.with(raw.slice(*LIMITS).transform_values { |text| bare.parse(text) })
      end

      # kind - a key of Kind::ALL; limits - LIMITS key => Rational in the kind's base unit.
      def initialize(kind, limits)
        @kind = kind
        @of = Kind.fetch(kind)
        @limits = limits.freeze
        freeze
      end

      def measured? = @of.measured?
      def unit = @of.unit

      # What was typed, as a Rational in the base unit. Raises Unreadable.
      def parse(text)
        @of.parse(text)
      rescue Quantity::Unreadable => e
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
      def print(value) = @of.print(value)
    end
  end
end

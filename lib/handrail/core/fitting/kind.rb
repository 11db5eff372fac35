# frozen_string_literal: true

module Handrail
  module Fitting
    # A kind of quantity that a check can ask for. A new one is an entry of ALL, and one in the constraint of the rows
    # that are kept of it (check_results, in db/migrations); all else asks here.
    #
    #   Kind.fetch("angle").parse("4 deg") # => (4/1)
    #   Kind.fetch("angle").print(4)       # => "4°"
    #
    # unit - what the field asks for, nil where yes or no is all; reads - a text => Rational in the base unit, raising
    # Quantity::Unreadable; prints - such a Rational => text.
    Kind =
      Value.new(:unit, :reads, :prints) do
        # The kind of a key. Raises ArgumentError for one that is none.
        def self.fetch(key) =
          all.fetch(key) { raise ArgumentError, "there is no kind of check called #{key}" }

        # key => Kind
        def self.all = Kind::ALL
        def self.keys = all.keys

        # A whole number within a range, as a Rational. Raises Quantity::Unreadable.
        def self.whole(text, range)
          number = Integer(text.to_s.strip[0, 6], 10, exception: false)
          return Rational(number) if number && range.cover?(number)

          raise Quantity::Unreadable,
                "“#{text.to_s.strip[0, 20]}” is no whole number from #{range.min} to #{range.max}."
        end

        # A weight in kg, as a Rational. Raises Quantity::Unreadable.
        def self.weight(text)
          number = Families::Number.read(text.to_s.sub(/\s*kg\z/i, ""))
          return number if number&.positive?

          raise Quantity::Unreadable,
                "“#{text.to_s.strip[0, 20]}” is no weight in kg. Write it like 82.5."
        end

        def measured? = !unit.nil?
        def parse(text) = reads&.call(text)
        def print(value) = prints.call(value)
      end

    Kind::ALL = {
      "yes_no" => Kind[prints: ->(value) { value.to_i.to_s }],
      "length" =>
        Kind[
          unit: "mm",
          reads: ->(text) { Quantity::Length.parse(text, unit: "mm").mm },
          prints: ->(value) { Quantity::Length.mm(value).plain("mm") }
        ],
      "angle" =>
        Kind[
          unit: "degrees",
          reads: ->(text) { Quantity::Angle.parse(text).degrees },
          prints: ->(value) { Quantity::Angle.new(value).to_s }
        ],
      "pressure" =>
        Kind[
          unit: "mmHg",
          reads: ->(text) { Quantity::Pressure.parse(text).mmhg },
          prints: ->(value) { Quantity::Pressure.new(value).to_s }
        ],
      "count" =>
        Kind[
          unit: "number",
          reads: ->(text) { Kind.whole(text, 0..999) },
          prints: ->(value) { value.to_i.to_s }
        ],
      "score" =>
        Kind[
          unit: "0 to 10",
          reads: ->(text) { Kind.whole(text, 0..10) },
          prints: ->(value) { "#{value.to_i} of 10" }
        ],
      "duration" =>
        Kind[
          unit: "min",
          reads: ->(text) { Quantity::Duration.parse(text).seconds },
          prints: ->(value) { Quantity::Duration.new(value).to_s }
        ],
      "weight" =>
        Kind[
          unit: "kg",
          reads: ->(text) { Kind.weight(text) },
          prints: ->(value) { "#{Families::Number.print(value)} kg" }
        ]
    }.freeze
  end
end

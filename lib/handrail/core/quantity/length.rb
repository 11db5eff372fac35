# frozen_string_literal: true

module Handrail
  module Quantity
    # An exact length. Inside it is a Rational number of millimetres; 1 in = 25.4 mm exactly
    # (NIST SP 811, 2008, appendix B).
    #
    #   Length.parse("14 3/8 in").mm          # => (14605/40)
    #   Length.parse("41,5", unit: "cm").mm   # => (415/1)
    #   Length.parse("37.2 cm").on(Tape["cm 1 mm"]) # => "37.2"
    class Length
      include Comparable

      # What was typed is no length; the message shows a form that is accepted.
      class Unreadable < Quantity::Unreadable
      end

      MM_PER = {
        "mm" => 1r,
        "cm" => 10r,
        "m" => 1000r,
        "in" => Rational(254, 10),
        "ft" => Rational(3048, 10)
      }.freeze
      SPELLINGS = {
        "mm" => "mm",
        "millimetre" => "mm",
        "millimetres" => "mm",
        "millimeter" => "mm",
        "millimeters" => "mm",
        "cm" => "cm",
        "centimetre" => "cm",
        "centimetres" => "cm",
        "centimeter" => "cm",
        "centimeters" => "cm",
        "m" => "m",
        "in" => "in",
        "in." => "in",
        "inch" => "in",
        "inches" => "in",
        '"' => "in",
        "''" => "in",
        "ft" => "ft",
        "ft." => "ft",
        "foot" => "ft",
        "feet" => "ft",
        "'" => "ft"
      }.freeze
      FRACTION_SIGNS = {
        "¼" => "1/4",
        "½" => "1/2",
        "¾" => "3/4",
        "⅛" => "1/8",
        "⅜" => "3/8",
        "⅝" => "5/8",
        "⅞" => "7/8",
        "⅓" => "1/3",
        "⅔" => "2/3",
        "⅕" => "1/5",
        "⅖" => "2/5",
        "⅗" => "3/5",
        "⅘" => "4/5",
        "⅙" => "1/6",
        "⅚" => "5/6"
      }.freeze
      PLAIN_SIGNS = {
        "⁄" => "/",
        "″" => '"',
        "”" => '"',
        "“" => '"',
        "′" => "'",
        "’" => "'",
        "–" => "-",
        "‑" => "-",
        "\u00a0" => " ",
        "\u2009" => " ",
        "\u202f" => " "
      }.freeze

      NUMBER =
        %r{(?:(?<whole>\d{1,6})(?: *- *| +))?(?<top>\d{1,4})/(?<bottom>\d{1,4})|(?<decimal>\d{1,6}(?:[.,]\d{1,9})?)}
      UNIT = /(?<unit>[a-z]+\.?|''|["'])/
      ONE = /\A(?:#{NUMBER}) *-? *#{UNIT}?\z/
      FEET_AND_INCHES = /\A(?<feet>\d{1,3}) *(?:ft\.?|foot|feet|') *(?<rest>\d.*)\z/
      # characters of a text that is looked at; no length needs more
      LONGEST = 40
      EXAMPLE = 'Write it like 41.5 cm, 415 mm, 14 3/8 in or 9".'

      attr_reader :mm

      class << self
        # Reads what a person typed. text - the typed text; unit - the unit meant when none is typed
        # ("cm", "in", "mm", "ft", "m"), or nil. Returns a Length. Raises Unreadable, with a message
        # for the screen.
        def parse(text, unit: nil)
          tidy = tidy(text)
          raise Unreadable, "Nothing was typed. #{EXAMPLE}" if tidy.empty?

          too_long(text) if tidy.length > LONGEST

          compound = FEET_AND_INCHES.match(tidy)
          return feet_and_inches(compound, text) if compound

          match = ONE.match(tidy) or refuse(text, tidy)
          meant = unit_of(match, unit, text)
          new(number(match, text) * MM_PER.fetch(meant))
        end

        # Reads a cell of a table that has a column for the unit. Raises Unreadable too where the cell has a unit of
        # its own and it is another one: which of the two is meant is not ours to choose.
        def of_cell(text, unit:)
          own =
            unit(
              text.to_s.strip[/(?:[[:alpha:]]+|["'″”])\.?\z/].to_s.tr("″”", '""').delete_suffix(".")
            )
          column = unit(unit)
          if own && column && own != column
            raise Unreadable,
                  "“#{clip(text)}” says #{own}, and its column for the unit #{column}. Which is it?"
          end

          # in mm a point before three figures divides thousands as often as it divides one
          if (own || column) == "mm" && text.to_s.strip.match?(/\A[1-9]\.\d{3}(?!\d)/)
            two_ways(text)
          end
          parse(text, unit: unit)
        end

        # A length of so many millimetres.
        def mm(number) = new(number)

        # The standard spelling of a unit ("inches" -> "in"), or nil when it is none.
        def unit(text) = SPELLINGS[text.to_s.strip.downcase]

        private

        def too_long(text) =
          raise(Unreadable, "“#{clip(text)}” is too long for a length. #{EXAMPLE}")

        def tidy(text)
          text
            .to_s
            .scrub("?")
            .strip
            .downcase
            .gsub(/[¼-¾⅓-⅞]/) { |sign| " #{FRACTION_SIGNS.fetch(sign, "?")}" }
            .gsub(/[⁄″”“′’–‑\u00a0\u2009\u202f]/, PLAIN_SIGNS)
            .strip
            .sub(%r{-\s+(?=\d+/)}, "-")
        end

        def feet_and_inches(match, text)
          # a thousand is written 1'005 in some countries
          two_ways(text) if match[:rest].match?(/\A\d{3}(?!\d)/) && !match[:rest].match?(/"|in/)
          rest = parse(match[:rest], unit: "in")
          whole = match[:feet].to_i * MM_PER["ft"]
          if rest.mm >= MM_PER["ft"] || match[:rest].match?(/[a-z]*(ft|cm|mm|\d\s*m\b)/)
            raise Unreadable,
                  "“#{clip(text)}” mixes feet with something other than inches. Write it like 1 ft 2 in."
          end

          new(whole + rest.mm)
        end

        def two_ways(text) =
          raise(
            Unreadable,
            "“#{clip(text)}” can be read two ways. Write 1250 for a thousand, or 1.25 with a point."
          )

        def number(match, text)
          return decimal(match[:decimal], text) if match[:decimal]

          bottom = match[:bottom].to_i
          if bottom.zero? || (match[:whole] && match[:top].to_i >= bottom)
            raise Unreadable,
                  "The fraction in “#{clip(text)}” can not be read. Write it like 14 3/8 in."
          end

          match[:whole].to_i + Rational(match[:top].to_i, bottom)
        end

        def decimal(digits, text)
          two_ways(text) if digits.match?(/\A[1-9]\d{0,2},\d{3}\z/)
          Rational(digits.tr(",", "."))
        end

        def unit_of(match, default, text)
          if match[:unit]
            return(
              SPELLINGS[match[:unit]] ||
                raise(Unreadable, "“#{match[:unit]}” is no unit known here. #{EXAMPLE}")
            )
          end
          if default.nil? || default.to_s.strip.empty?
            raise Unreadable, "“#{clip(text)}” has no unit. #{EXAMPLE}"
          end

          unit(default) ||
            raise(Unreadable, "“#{clip(default)}” is no unit known here: use mm, cm, in or ft.")
        end

        def refuse(text, tidy)
          case tidy
          when /\d.*\b(to|bis|or)\b.*\d/, %r{\d\s*-\s*\d+(?!/|\d)}
            raise Unreadable, "“#{clip(text)}” is two readings. Enter them one after the other."
          when /\A-/
            raise Unreadable, "“#{clip(text)}” is below zero. #{EXAMPLE}"
          else
            raise Unreadable, "“#{clip(text)}” can not be read as a length. #{EXAMPLE}"
          end
        end

        def clip(text) =
          text.to_s[0, LONGEST].scrub("?").strip.then { |t| t.length > 30 ? "#{t[0, 30]}…" : t }
      end

      # mm - millimetres, any exact number (a Float is taken as its shortest decimal).
      def initialize(mm)
        @mm = mm.is_a?(Float) ? Rational(mm.to_s) : Rational(mm)
        freeze
      end

      # The exact number in a unit: Length.parse("1 in").in("mm") # => (127/5)
      def in(unit) = mm / MM_PER.fetch(unit)

      # As read from a tape: rounded to its resolution (halves up), without the unit.
      def on(tape) = tape.figure(self)

      # As read from a tape, with its unit: "37.2 cm", "14 3/8 in".
      def to_s(tape = Tape::DEFAULT) = tape.print(self)

      # Written out in full where that is short (two decimals, 64ths), else rounded to two decimals:
      # for reasons and tables.
      def plain(unit)
        number = self.in(unit)
        return "#{Tape.mixed(number)} #{unit}" if unit == "in" && (64 % number.denominator).zero?

        rounded = number.round(2)
        "#{rounded.denominator == 1 ? rounded.to_i : rounded.to_f} #{unit}"
      end

      # Written out so that it is read back as the same length: "0.415" in m, "14 3/8" in in,
      # without the unit.
      def exact(unit)
        number = self.in(unit)
        return Tape.mixed(number) if unit == "in" && (64 % number.denominator).zero?

        billionths = number * (10**9)
        return Tape.mixed(number) unless billionths.denominator == 1

        whole, rest = billionths.to_i.divmod(10**9)
        rest.zero? ? whole.to_s : "#{whole}.#{rest.to_s.rjust(9, "0").sub(/0+\z/, "")}"
      end

      def +(other) = Length.new(mm + other.mm)
      def -(other) = Length.new(mm - other.mm)
      def <=>(other) = other.is_a?(Length) ? mm <=> other.mm : nil
      def ==(other) = other.is_a?(Length) && mm == other.mm
      alias eql? ==
      def hash = mm.hash
      def inspect = "#<Length #{mm.to_f} mm>"
    end
  end
end

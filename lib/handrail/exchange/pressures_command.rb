# frozen_string_literal: true

module Handrail
  module Exchange
    # `handrail pressures`: the fewest straps of a wrap to ease or pull. The columns and rules are a
    # public contract.
    class PressuresCommand < Command
      INPUT = %w[person strap pressure].freeze
      COLUMNS = %w[person strap pressure target set_to state].freeze
      NUMBERS = %w[strap pressure target set_to].freeze
      NEEDED = %i[straps].freeze
      USAGE =
        "handrail pressures --straps FILE.csv [--bottom 47.5] [--top 30] [--within 3] " \
          "#{MarksOptions::USAGE} [--format csv|json]".freeze
      DEFAULTS = { bottom: "47.5", top: "30", within: "3" }.freeze

      def self.define(parser, given)
        given.merge!(DEFAULTS)
        parser.on("--straps FILE", "pressures: #{INPUT.join(",")}, mmHg") { |v| given[:straps] = v }
        parser.on("--bottom MMHG", "wanted at the lowest strap") { |v| given[:bottom] = v }
        parser.on("--top MMHG", "wanted at the top strap") { |v| given[:top] = v }
        parser.on("--within MMHG", "a strap this near its target may stay") do |v|
          given[:within] = v
        end
      end

      def initialize(options)
        super
        @wanted = DEFAULTS.keys.to_h { |key| [key, mmhg(key, options[key])] }
        @table = table(options[:straps], INPUT, %w[pressure])
        @fields = Fields.new(@table)
      end

      # Puts one row a strap into `out`, persons by first appearance, straps from the bottom up.
      def rows(out)
        people.each do |person, pressures|
          Compression::FewestChanges
            .new(pressures, **@wanted)
            .straps
            .each do |strap|
              out << [
                person,
                strap.number.to_s,
                figure(strap.pressure),
                figure(strap.target),
                figure(strap.set_to),
                strap.state.to_s
              ]
            end
        end
      end

      private

      def mmhg(key, text)
        return Rational(text.tr(",", ".")) if text.match?(Fields::NUMBER)

        raise Handrail::Error,
              "--#{key}: “#{text}” can not be read as a pressure. Write it like 47.5."
      end

      # person => strap => mmHg
      def people
        found = {}
        @table.each do |(person, strap, pressure), line|
          @fields.named(person, line, "has no person. Give every strap the person it belongs to.")
          number = @fields.whole(strap, line, "strap")
          own = (found[person] ||= {})
          if own.key?(number)
            @table.fault(
              line,
              "gives strap #{number} of “#{person}” a second time. Keep one pressure a strap."
            )
          end

          own[number] = @fields.number(pressure, line, "pressure")
        end
        found
      end
    end
  end
end

# frozen_string_literal: true

require "yaml"

module Handrail
  module Exchange
    # `handrail rehearse`: plays a fitting of a family from a file of events, with no database, and says after
    # each where it stands. The columns and rules are a public contract, see docs/rehearse.md.
    #
    # Status 0 where all events could be read, taken or not; 2 for a fault in call or files.
    class RehearseCommand < Command
      MARKED = false
      COLUMNS = %w[n do key stage taken next blocked stop offered opened].freeze
      NUMBERS = %w[n].freeze
      NEEDED = %i[events].freeze
      FIELDS = %w[do key value].freeze
      USAGE =
        "handrail rehearse --family NAME [--file FAMILY.yml] --events EVENTS.csv [--chart CHART.csv] " \
          "[--format csv|json]"
      # events of one file
      MOST = 5000
      PRODUCTS = File.join(ROOT, "demo", "products.yml")
      private_constant :MOST, :PRODUCTS

      def self.define(parser, given)
        parser.on("--family NAME", "one of the families that ship with it") do |v|
          given[:family] = v
        end
        parser.on("--file FILE", "a family file, in place of the one that ships") do |v|
          given[:file] = v
        end
        parser.on("--events FILE", "what happens, in order: #{FIELDS.join(",")}") do |v|
          given[:events] = v
        end
        parser.on("--chart FILE", "the size chart, in place of the demo product's") do |v|
          given[:chart] = v
        end
      end

      # What the demo offers of a family, as its file has it; {} where it offers none.
      def self.product(family)
        YAML.safe_load_file(PRODUCTS).each_value.find { |raw| raw["family"] == family.key } || {}
      end

      # A Store::Rehearsal of a family on the demo's product. chart - Sizing::Chart::Rows in place of its own;
      # day - the Date of the first recheck, nil where the events name none
      def self.rehearsal(family, chart: nil, day: nil)
        product = product(family)
        named = product["chart"]
        chart ||= named && ChartFile.rows(File.join(ROOT, "demo", "charts", "#{named}.csv"))
        Store::Rehearsal.new(
          family,
          options: product.fetch("options", {}),
          chart: chart,
          day: day,
          rule: Sizing::TieRule.new(product.fetch("tie", "larger"), primary: product["primary"])
        )
      end

      def initialize(options)
        super
        unless options[:family] || options[:file]
          raise OptionParser::MissingArgument, "--family or --file"
        end

        @family = family
        @events = events
        @chart = ChartFile.rows(options[:chart]) if options[:chart]
      end

      # Puts one row an event into `out`.
      def rows(out)
        played = self.class.rehearsal(@family, chart: @chart, day: first_recheck)
        @events
          .each
          .with_index(1) do |(name, key, value), number|
            line = played.play(name, key, value)
            lists =
              [line.blocked, line.stop, line.offered, line.opened].map { |list| list.join("; ") }
            out << [number.to_s, name, key, line.stage, line.taken, line.next, *lists]
          end
      end

      private

      def family
        return Families::Review.of(@options[:file]).family if @options[:file]

        Families::Registry.all[@options[:family]] or
          raise Handrail::Error,
                "No device family is called “#{@options[:family][0, 40]}”. There are: " \
                  "#{Families::Registry.all.keys.sort.join(", ")}."
      end

      def first_recheck
        text = @events.find { |name, *| name == "recheck" }&.last
        text && !text.empty? ? Quantity::Day.read(text) : nil
      rescue Quantity::Day::Unreadable
        nil
      end

      def events
        table = CSVTable.new(@options[:events], FIELDS)
        found = []
        table.each do |row, line|
          table.fault(line, "is more than a rehearsal holds: #{MOST} events.") if found.size >= MOST
          unless Store::Rehearsal::NAMES.include?(row.first)
            table.fault(
              line,
              "does “#{row.first[0, 20]}”. Write one of #{Store::Rehearsal::NAMES.join(", ")}."
            )
          end
          found << row
        end
        found
      end
    end
  end
end

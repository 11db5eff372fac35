# frozen_string_literal: true

require "csv"
require "json"
require "optparse"

module Handrail
  module Exchange
    # `handrail match`: readings against a chart, in batch. The columns and rules are a public contract.
    class MatchCommand
      COLUMNS = %w[person verdict size margin_mm probability read_again reason].freeze
      USAGE = "handrail match --chart CHART.csv --readings READINGS.csv [--tie larger|smaller|nearest|primary] " \
              "[--primary SITE] [--resolution '1 mm'] [--format csv|json]"

      # arguments - those after "match"; out, err - where to print. Returns the exit status: 0, or 2 for a fault in call or files.
      def self.run(arguments, out: $stdout, err: $stderr)
        new(options(arguments)).print(out)
        0
      rescue Handrail::Error, OptionParser::ParseError => e
        err.puts(e.is_a?(OptionParser::ParseError) ? "#{e.message}. Call it so: #{USAGE}" : e.message)
        2
      end

      def self.options(arguments)
        given = { tie: "larger", resolution: "1 mm", format: "csv" }
        parser = OptionParser.new(USAGE) do |o|
          o.on("--chart FILE", "size chart: #{ChartFile::COLUMNS.join(',')}") { |v| given[:chart] = v }
          o.on("--readings FILE", "readings: #{ReadingsFile::COLUMNS.join(',')}") { |v| given[:readings] = v }
          o.on("--tie RULE", Sizing::TieRule::NAMES, "between sizes take the #{Sizing::TieRule::NAMES.join(', ')}") { |v| given[:tie] = v }
          o.on("--primary SITE", "the site that decides, for --tie primary") { |v| given[:primary] = v }
          o.on("--resolution LENGTH", "the tape's, for example 1 mm or 1/8 in") { |v| given[:resolution] = v }
          o.on("--format FORMAT", %w[csv json], "csv (default) or json") { |v| given[:format] = v }
        end
        rest = parser.parse(arguments)
        raise OptionParser::NeedlessArgument, rest.first if rest.any?

        %i[chart readings].each { |key| raise OptionParser::MissingArgument, "--#{key}" unless given[key] }
        given
      end
      private_class_method :options

      def initialize(options)
        @rule = Sizing::TieRule.new(options[:tie], primary: options[:primary])
        @resolution = resolution(options[:resolution])
        @format = options[:format]
        @chart = ChartFile.read(options[:chart])
        @readings = ReadingsFile.new(options[:readings])
        known = @chart.sites
        return if options[:primary].nil? || known.include?(options[:primary])

        raise Handrail::Error, "--primary: the chart has no site “#{options[:primary]}”. It has #{known.join(', ')}."
      end

      # Prints one row a person. Raises before anything is printed when a file is faulty.
      def print(out)
        @format == "json" ? print_json(out) : print_csv(out)
      end

      private

      def resolution(text)
        length = Quantity::Length.parse(text)
        raise Handrail::Error, "--resolution: it must be more than nothing, for example 1 mm." unless length.mm.positive?

        length
      rescue Quantity::Length::Unreadable => e
        raise Handrail::Error, "--resolution: #{e.message}"
      end

      def print_csv(out)
        header = COLUMNS.to_csv
        each_row do |row|
          out << header if header
          header = nil
          out << row.map { |field| field == "" ? nil : field }.to_csv
        end
      end

      def print_json(out)
        lead = "[\n"
        each_row do |row|
          object = COLUMNS.zip(row).to_h
          %w[margin_mm probability].each { |key| object[key] &&= object[key].to_f }
          out << lead << object.to_json
          lead = ",\n"
        end
        out << "\n]\n"
      end

      def each_row
        @readings.each_person do |person, readings|
          match = @chart.match(readings, rule: @rule, resolution: @resolution)
          yield [person, match.verdict.to_s, match.size, figure(match.margin, 1), figure(match.probability, 3),
                 match.read_again.join(";"), [*questions(readings), match.reason].join(" ")]
        end
      end

      def figure(number, digits) = number && format("%.#{digits}f", number.round(digits))

      # a known site's reading that no body would give is asked about first
      def questions(readings)
        readings.filter_map do |reading|
          site = Anatomy::Vocabulary.default[reading.site] or next
          next if @chart.sites.none?(reading.site)

          unit = Quantity::Length.unit(reading.typed[/[a-z"'.]+\z/i].to_s) || "cm"
          species = site.species.find { |s| Measuring::Plausibility.judge(site, reading.length, typed_unit: unit, species: s).plausible? }
          species ? nil : Measuring::Plausibility.judge(site, reading.length, typed_unit: unit, species: site.species.first).question
        end
      end
    end
  end
end

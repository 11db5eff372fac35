# frozen_string_literal: true

require "csv"
require "json"
require "optparse"
require "tempfile"

module Handrail
  module Exchange
    # `handrail match`: readings against a chart, in batch. The columns and rules are a public
    # contract.
    class MatchCommand
      COLUMNS = %w[person verdict size margin_mm probability read_again reason].freeze
      # How many different sets of readings are remembered.
      MEMORY = 20_000
      USAGE =
        "handrail match --chart CHART.csv --readings READINGS.csv [--tie larger|smaller|nearest|primary] " \
          "[--primary SITE] [--resolution '1 mm'] #{MarksOptions::USAGE} [--format csv|json]".freeze

      # arguments - those after "match"; out, err - where to print. Returns the exit status: 0, or 2
      # for a fault in call or files.
      def self.run(arguments, out: $stdout, err: $stderr)
        new(options(arguments)).print(out)
        0
      rescue Handrail::Error, OptionParser::ParseError => e
        err.puts(
          e.is_a?(OptionParser::ParseError) ? "#{e.message}. Call it so: #{USAGE}" : e.message
        )
        2
      end

      # How it is called, as an OptionParser. given - where what is found goes
      def self.parser(given)
        OptionParser.new(USAGE) do |o|
          o.on("--chart FILE", "size chart: #{ChartFile::COLUMNS.join(",")}") do |v|
            given[:chart] = v
          end
          o.on("--readings FILE", "readings: #{ReadingsFile::COLUMNS.join(",")}") do |v|
            given[:readings] = v
          end
          o.on(
            "--tie RULE",
            Sizing::TieRule::NAMES,
            "between sizes take the #{Sizing::TieRule::NAMES.join(", ")}"
          ) { |v| given[:tie] = v }
          o.on("--primary SITE", "the site that decides, for --tie primary") do |v|
            given[:primary] = v
          end
          o.on("--resolution LENGTH", "the tape's, for example 1 mm or 1/8 in") do |v|
            given[:resolution] = v
          end
          MarksOptions.define(o, given)
          o.on("--format FORMAT", %w[csv json], "csv (default) or json") { |v| given[:format] = v }
        end
      end

      def self.options(arguments)
        given = { tie: "larger", resolution: "1 mm", format: "csv" }
        rest = parser(given).parse(arguments)
        raise OptionParser::NeedlessArgument, rest.first if rest.any?

        %i[chart readings].each do |key|
          raise OptionParser::MissingArgument, "--#{key}" unless given[key]
        end
        given
      end
      private_class_method :options

      def initialize(options)
        @rule = Sizing::TieRule.new(options[:tie], primary: options[:primary])
        @resolution = resolution(options[:resolution])
        @format = options[:format]
        written = MarksOptions.of(options)
        @chart = ChartFile.read(options[:chart], **written)
        @readings = ReadingsFile.new(options[:readings], **written)
        known = @chart.sites
        return if options[:primary].nil? || known.include?(options[:primary])

        raise Handrail::Error,
              "--primary: the chart has no site “#{options[:primary]}”. It has #{known.join(", ")}."
      end

      # Prints one row a person. Raises before anything is printed when a file is faulty: the rows
      # are set aside until all were read.
      def print(out)
        Tempfile.create("handrail-match") do |aside|
          @format == "json" ? print_json(aside) : print_csv(aside)
          aside.flush
          aside.rewind
          IO.copy_stream(aside, out)
        end
      end

      private

      def resolution(text)
        length = Quantity::Length.parse(text)
        unless length.mm.positive?
          raise Handrail::Error, "--resolution: it must be more than nothing, for example 1 mm."
        end

        length
      rescue Quantity::Length::Unreadable => e
        raise Handrail::Error, "--resolution: #{e.message}"
      end

      def print_csv(out)
        csv = CSV.new(out)
        csv << COLUMNS
        each_row(out) { |row| csv << row }
      end

      def print_json(out)
        lead = "[\n"
        each_row(out) do |row|
          object = COLUMNS.zip(row).to_h
          object["read_again"] ||= ""
          %w[margin_mm probability].each { |key| object[key] &&= object[key].to_f }
          out << (out.pos.zero? ? "[\n" : lead) << object.to_json
          lead = ",\n"
        end
        out << "\n]\n"
      end

      # Yields each person's row; out is emptied when the file turns out to be in no order and is
      # read again.
      def each_row(out)
        start = out.pos
        again =
          lambda do
            out.flush
            out.truncate(start)
            out.seek(start)
          end
        @readings.each_person(again: again) { |person, readings| yield [person, *answer(readings)] }
      end

      # Most people share their figures with others: what was answered to the same readings is
      # remembered, up to a bound.
      def answer(readings)
        key =
          readings.flat_map do |reading|
            [reading.site, reading.posture, reading.tension, reading.length, reading.typed]
          end
        @answers ||= {}
        @answers.clear if @answers.size >= MEMORY
        @answers[key] ||= fresh(readings)
      end

      def fresh(readings)
        match = @chart.match(readings, rule: @rule, resolution: @resolution)
        again = match.read_again.join(";")
        [
          match.verdict.to_s,
          match.size,
          figure(match.margin, 1),
          figure(match.probability, 3),
          again.empty? ? nil : again,
          [*questions(readings), Wording.remarks(match.remarks), *misspelt(match, readings)].join(
            " "
          )
        ].freeze
      end

      def figure(number, digits) = number && format("%.#{digits}f", number.round(digits))

      # where a reading is missing: sites that neither the chart nor the handbook has, with where they stand first
      def misspelt(match, readings)
        return [] unless match.verdict == :unusable

        readings
          .map(&:site)
          .uniq
          .reject { |site| @chart.sites.include?(site) || Anatomy::Vocabulary.default[site] }
          .map { |site| "“#{site}” (line #{@readings.line_of(site)}) is no site of the chart." }
      end

      # a known site's reading that no body would give is asked about first
      def questions(readings)
        readings.filter_map do |reading|
          site = Anatomy::Vocabulary.default[reading.site] or next
          next if @chart.sites.none?(reading.site)

          unit = Quantity::Length.unit(reading.typed[/[a-z"'.]+\z/i].to_s) || "cm"
          judged =
            site.species.map do |species|
              Measuring::Plausibility.judge(
                site,
                reading.length,
                typed_unit: unit,
                species: species
              )
            end
          asked(site, judged.first.finding) if judged.none?(&:plausible?)
        end
      end

      def asked(site, finding)
        read, from, to, unit, meant = finding.values_at("read", "from", "to", "unit", "meant")
        said = "#{read} is not what we would expect #{site.where} (#{from} to #{to} #{unit})."
        meant ? "#{said} Was it #{meant}?" : "#{said} Look at the tape again."
      end
    end
  end
end

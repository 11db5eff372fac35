# frozen_string_literal: true

module Handrail
  module Exchange
    # `handrail consistency`: whether the readings of each person go together. The columns and rules
    # are a public contract.
    class ConsistencyCommand < Command
      COLUMNS = %w[person site value_mm expected_mm low_mm high_mm asked suggestion].freeze
      NUMBERS = %w[value_mm expected_mm low_mm high_mm].freeze
      NEEDED = %i[readings].freeze
      USAGE =
        "handrail consistency --readings FILE.csv #{MarksOptions::USAGE} [--format csv|json]".freeze

      def self.define(parser, given)
        parser.on("--readings FILE", "readings: #{ReadingsFile::COLUMNS.join(",")}") do |v|
          given[:readings] = v
        end
      end

      def initialize(options)
        super
        @readings = ReadingsFile.new(options[:readings], **MarksOptions.of(options))
      end

      # Puts one row a person and site into `out`, persons and sites by first appearance.
      def rows(out)
        kept = []
        people = -> { kept.clear }
        @readings.each_person(again: people) do |person, readings|
          kept.concat(answers(person, readings))
        end
        kept.each { |row| out << row }
      end

      private

      def answers(person, readings)
        figures =
          readings
            .group_by(&:site)
            .transform_values { |own| own.map { |reading| figure_of(reading) } }
        judged = Measuring::Consistency.new(figures, near: false)
        asked = judged.question
        figures.map do |site, own|
          value =
            Measuring::Repeats.new(
              own.map { |one| Quantity::Length.mm(one.mm) },
              resolution: STEP
            ).mm
          found = judged.expected(site)
          [
            person,
            site,
            figure(value),
            figure(found&.expected),
            figure(found&.low),
            figure(found&.high),
            asked&.site == site ? "yes" : "no",
            asked&.site == site ? suggestion(asked) : nil
          ]
        end
      end

      STEP = Quantity::Length.mm(1)
      private_constant :STEP

      def figure_of(reading)
        text = reading.typed.sub(/\s*[[:alpha:]"'″”]+\.?\z/, "").strip
        Measuring::Consistency::Figure[mm: reading.mm, text: text, unit: reading.unit]
      end

      def suggestion(asked) = asked.kind == :site ? "site #{asked.other}" : asked.meant&.said
    end
  end
end

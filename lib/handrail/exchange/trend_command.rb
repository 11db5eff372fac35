# frozen_string_literal: true

module Handrail
  module Exchange
    # `handrail trend`: how readings change with time, and when they come to an edge. The columns
    # and rules are a public contract.
    class TrendCommand < Command
      INPUT = %w[person site date value unit].freeze
      COLUMNS = %w[
        person
        site
        n
        slope_mm_per_week
        low
        high
        verdict
        edge
        crosses_on
        earliest
        latest
      ].freeze
      NUMBERS = %w[n slope_mm_per_week low high].freeze
      NEEDED = %i[series].freeze
      USAGE =
        "handrail trend --series FILE.csv [--lower V] [--upper V] [--unit U] " \
          "#{MarksOptions::USAGE} [--format csv|json]".freeze

      def self.define(parser, given)
        parser.on("--series FILE", "readings: #{INPUT.join(",")}") { |v| given[:series] = v }
        parser.on("--lower V", "the edge below") { |v| given[:lower] = v }
        parser.on("--upper V", "the edge above") { |v| given[:upper] = v }
        parser.on("--unit U", "the edges' unit where they name none (mm unless said)") do |v|
          given[:unit] = v
        end
      end

      def initialize(options)
        super
        @edges =
          %i[lower upper].to_h { |key| [key, edge(key, options[key], options[:unit] || "mm")] }
        @table = table(options[:series], INPUT, %w[value])
        @fields = Fields.new(@table, days: "date")
      end

      # Puts one row a person and site into `out`, in order of first appearance.
      def rows(out)
        series.each do |(person, site), points|
          out << row(person, site, Followup::Trend.new(points))
        end
      end

      private

      def row(person, site, trend)
        lead = [person, site, trend.count.to_s]
        return *lead, nil, nil, nil, "too_few", nil, nil, nil, nil if trend.too_few?

        found = trend.crossing(**@edges)
        [
          *lead,
          *[trend.slope, *trend.interval].map { |daily| figure(daily * 7, 2) },
          trend.verdict.to_s,
          found.edge&.to_s,
          *[found.on, found.earliest, found.latest].map { |date| date&.iso8601 }
        ]
      end

      def edge(key, text, unit)
        text && Quantity::Length.parse(text, unit: unit).mm
      rescue Quantity::Length::Unreadable => e
        raise Handrail::Error, "--#{key}: #{e.message}"
      end

      # [person, site] => [[Date, mm], ...]
      def series
        found = {}
        @table.each do |(person, site, date, value, unit), line|
          @fields.named(person, line, "has no person. Give every reading the person it belongs to.")
          @fields.named(site, line, "has no site. Name what was measured.")
          (found[[person, site]] ||= []) << [
            @fields.date(date, line),
            @fields.length(value, unit, line, "value")
          ]
        end
        found
      end
    end
  end
end

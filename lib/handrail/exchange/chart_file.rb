# frozen_string_literal: true

module Handrail
  module Exchange
    # A size chart as CSV.
    module ChartFile
      COLUMNS = %w[part size site min max unit posture tension].freeze

      # Returns a Sizing::Chart. Raises CSVTable::Faulty with file, line and mend; nothing is returned of a faulty file.
      def self.read(path) = Sizing::Chart.build(rows(path))

      # The rows as Sizing::Chart::Rows, checked against each other.
      def self.rows(path)
        table = CSVTable.new(path, COLUMNS)
        rows = []
        lines = []
        table.each do |fields, line|
          rows << row(table, fields, line)
          lines << line
        end
        Sizing::Chart.build(rows)
        rows
      rescue Sizing::Chart::Faulty => e
        table.fault(e.at ? lines[e.at] : 1, e.message.sub(/\(row (\d+)\)/) { "(line #{lines[Regexp.last_match(1).to_i - 1]})" })
      end

      def self.row(table, fields, line)
        part, size, site, min, max, unit, posture, tension = fields
        table.fault(line, "has no size. Give every row the name of its size.") if size.empty?
        table.fault(line, "has no site. Name what is measured.") if site.empty?
        Sizing::Chart::Row[part: part, size: size, site: site, min: length(table, line, "min", min, unit),
                           max: length(table, line, "max", max, unit), unit: Quantity::Length.unit(unit) || typed_unit(min),
                           posture: word(posture), tension: word(tension)]
      end

      def self.length(table, line, column, text, unit)
        Quantity::Length.parse(text, unit: unit).mm
      rescue Quantity::Length::Unreadable => e
        table.fault(line, "#{column}: #{e.message}")
      end

      # "" means any, as nil
      def self.word(text) = text.empty? ? nil : text.downcase

      def self.typed_unit(text) = Quantity::Length.unit(text[/[a-z"'.]+\z/i].to_s) || "cm"
      private_class_method :row, :length, :typed_unit
    end
  end
end

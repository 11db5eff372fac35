# frozen_string_literal: true

module Handrail
  module Web
    # A chart as it stands in the editor's fields: every text kept, the rows that can be read, and
    # what is wrong with the others.
    class ChartDraft
      # a row's texts by column, its number among the readable rows or nil, and its fault or nil
      Line = Value.new(:texts, :row, :fault)

      BLANK = Exchange::ChartFile::COLUMNS.to_h { |column| [column, ""] }.freeze

      # From rows that are kept or were read from a file.
      def self.of(rows)
        new(
          rows.map { |row| Exchange::ChartFile::COLUMNS.zip(Exchange::ChartFile.fields(row)).to_h }
        )
      end

      # From a form: "rows" => { "0" => { "part" => ... }, ... }.
      def self.from(params)
        rows =
          (Hash.try_convert(params["rows"]) || {})
            .values
            .first(Exchange::ChartFile::MOST)
            .filter_map { |raw| Hash.try_convert(raw) }
        new(
          rows.map do |raw|
            BLANK.to_h do |column, _|
              [column, raw[column].is_a?(String) ? raw[column].strip[0, 120] : ""]
            end
          end
        )
      end

      attr_reader :lines

      def initialize(texts)
        kept = texts.reject { |row| row.values_at("size", "min", "max").all?(&:empty?) }
        number = -1
        @lines =
          kept.each_with_index.map do |row, i|
            next Line[texts: row] if unfilled?(row)

            read = row_of(row, i + 1)
            if read.is_a?(String)
              Line[texts: row, fault: read]
            else
              Line[texts: row, row: [number += 1, read]]
            end
          end
      end

      def rows = lines.filter_map { |line| line.row&.last }
      def faults = lines.filter_map(&:fault)
      # rows that name a size and a site and nothing more: those of an empty chart
      def unfilled = lines.count { |line| line.row.nil? && line.fault.nil? }
      def sound? = faults.empty? && rows.any?
      def findings(rule = Sizing::TieRule.new) = Sizing::ChartCheck.new(rows, rule: rule).findings

      # What can be read, tape by tape: [[part, [[row, number of the editor's line], ...]], ...].
      def tapes
        readable =
          lines.each_with_index.select { |line, _| line.row }.map { |line, i| [line.row.last, i] }
        readable
          .group_by { |row, _| [row.part.to_s, row.site] }
          .map { |(part, _), rows| [part, rows] }
      end

      # the number of the editor's line that holds a readable row
      def line_of(row_number) = lines.index { |line| line.row&.first == row_number }

      private

      def unfilled?(texts) = texts.values_at("min", "max").all?(&:empty?) && !texts["site"].empty?

      def row_of(texts, number)
        table = Table.new(number)
        Exchange::ChartFile.row(table, texts.values_at(*Exchange::ChartFile::COLUMNS), number)
      rescue Exchange::CSVTable::Faulty => e
        e.message
      end

      # stands in for a file: its faults name the row
      Table =
        Struct.new(:number) do
          def fault(_line, sentence) =
            raise(Exchange::CSVTable::Faulty, "row #{number}: #{sentence}")
        end
      private_constant :Table
    end
  end
end

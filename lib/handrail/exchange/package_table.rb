# frozen_string_literal: true

require "bigdecimal"
require "csv"

module Handrail
  module Exchange
    # One table of a Frictionless Data Package: its fields by what they are called, its rows from a file of its dialect,
    # or from the package itself as objects, as lists, or as a text. It leaves out fields that no chart has. Part of
    # PackageIn, which has the files and the words.
    class PackageTable
      COLUMNS = ChartFile::COLUMNS
      NUMBERS = DataPackage::NUMBERS
      private_constant :COLUMNS, :NUMBERS

      # resource - as datapackage.json has it; package - the PackageIn that it is of
      def initialize(resource, package)
        @resource = resource
        @package = package
      end

      def name = (@resource["name"] || @resource["title"] || @resource["path"]).to_s[0, 60]

      # Whether its fields are a chart's.
      def chart?
        names = columns.compact
        (%w[size site min max unit] - names).empty? || (%w[size site min_mm max_mm] - names).empty?
      end

      # [[row, { column => text }], ...], rows from 1, or from 2 where they have a header above them
      def listed
        most = ChartFile::MOST
        if rows.size > most
          @package.refuse(Wording.t("files.table_too_long", name: name, most: most))
        end

        rows.map do |row, cells|
          unless cells.size == columns.size
            @package.refuse(
              Wording.t(
                "files.row_has_fields_header",
                row: row,
                name: name,
                many: cells.size,
                width: columns.size
              )
            )
          end
          [
            row,
            columns
              .zip(cells.map { |cell| text(cell) })
              .to_h
              .except(nil)
              .reject { |_, cell| cell.empty? }
          ]
        end
      end

      # How its figures are said to be written, or nil. The fields that say so must say the same.
      def marks
        said = fields.select { |field| field["decimalChar"] || field["groupChar"] }
        told =
          said.map { |field| Quantity::Marks.named(field["decimalChar"], field["groupChar"]) }.uniq
        @package.refuse(Wording.t("files.figures_written_two_ways", name: name)) if told.size > 1

        told.first
      rescue ArgumentError
        @package.refuse(Wording.t("files.one_sign_for_two", name: name))
      end

      private

      def schema
        @schema ||=
          begin
            found = @resource["schema"]
            found = @package.json(found, name) if found.is_a?(String)
            found.is_a?(Hash) ? found : {}
          end
      end

      def fields = Array(schema["fields"]).grep(Hash)
      def dialect = @resource["dialect"].is_a?(Hash) ? @resource["dialect"] : {}

      # our names of its columns, in their order; nil for what no chart has
      def columns = @columns ||= header.map { |one| Columns.meant(one, COLUMNS + NUMBERS) }

      def header
        return data.first.keys if objects?
        return fields.map { |field| field["name"].to_s } if headless?

        lines.first.to_a.map(&:to_s)
      end

      # [[row, cells], ...]
      def rows
        @rows ||=
          if objects?
            data.each_with_index.map { |row, i| [i + 1, row.values_at(*header)] }
          else
            body = headless? ? lines : lines.drop(1)
            body
              .each_with_index
              .map { |cells, i| [i + (headless? ? 1 : 2), cells] }
              .reject { |_, cells| cells.compact.empty? }
          end
      end

      def headless? = dialect["header"] == false
      def data = @resource["data"]
      def objects? = data.is_a?(Array) && data.any? && data.all?(Hash)

      def lines
        @lines ||=
          if data.is_a?(Array)
            unless data.all?(Array)
              @package.refuse(Wording.t("files.rows_neither_objects_nor", name: name))
            end
            data
          else
            split(data.is_a?(String) ? data : file)
          end
      end

      def file
        path = @resource["path"] or
          @package.refuse(Wording.t("files.table_without_rows_or_file", name: name))
        bytes = @package.file(path, name)
        @package.held(bytes, @resource["hash"], Array(path).first) if @resource["hash"]
        decoded(bytes)
      end

      def decoded(bytes)
        named = encoding
        if named.nil? || named == Encoding::UTF_8
          return SpreadsheetText.new(bytes, COLUMNS, true).body
        end

        bytes
          .dup
          .force_encoding(named)
          .encode(Encoding::UTF_8)
          .delete_prefix("\uFEFF")
          .gsub(/\r\n?/, "\n")
      rescue EncodingError, SpreadsheetText::Undecodable
        @package.refuse(
          Wording.t(
            "files.can_not_read_save",
            name: name,
            resource: @resource["encoding"] || "UTF-8"
          )
        )
      end

      # nil where it names none that is known
      def encoding
        Encoding.find(@resource["encoding"].to_s)
      rescue ArgumentError
        nil
      end

      def split(text)
        if dialect["doubleQuote"] == false
          @package.refuse(
            Wording.t("files.escaped_quotation_mark", name: name, dialect: dialect["escapeChar"])
          )
        end
        comment = dialect["commentChar"].to_s
        kept = comment.empty? ? text : text.lines.reject { |line| line.start_with?(comment) }.join
        CSV.parse(
          kept,
          col_sep: separator(kept),
          quote_char: dialect["quoteChar"] || '"',
          skip_blanks: true
        )
      rescue CSV::MalformedCSVError, ArgumentError => e
        @package.refuse(
          Wording.t("files.table_not_well_formed_csv", name: name, message: e.message[0, 80])
        )
      end

      # as the dialect says, else as the text shows
      def separator(text)
        dialect["delimiter"] || SpreadsheetText.new(text.b, COLUMNS, true).separator
      end

      def text(cell)
        said =
          case cell
          when Float
            BigDecimal(cell.to_s).to_s("F").delete_suffix(".0")
          else
            cell.to_s.strip
          end
        missing.include?(said) ? "" : said
      end

      # version 2 may say why something is missing
      def missing
        @missing ||=
          Array(schema["missingValues"]).map do |one|
            one.is_a?(Hash) ? one["value"].to_s : one.to_s
          end
      end
    end
  end
end

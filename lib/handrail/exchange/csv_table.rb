# frozen_string_literal: true

require "csv"

module Handrail
  module Exchange
    # Reads a CSV file (RFC 4180) as spreadsheets save it (SpreadsheetText), with exactly the columns named, under
    # our names or others' (Columns), row by row.
    class CSVTable
      # The file is not as it must be: the message names file, line and mend.
      class Faulty < Handrail::Error
        attr_reader :line

        def initialize(message = nil, line: 0)
          super(message)
          @line = line
        end
      end

      attr_reader :name

      # path - the file; columns - the names that the header must have, in any order; name - what it
      # is called in messages; foreign - whether it may come as other programs save it; marks - how figures are
      # written there (Quantity::Marks), or nil; figures - the columns that hold them; optional - columns that the
      # header may have too: empty where it has not
      def initialize(
        path,
        columns,
        name: nil,
        foreign: false,
        marks: nil,
        figures: [],
        optional: []
      )
        @foreign = foreign
        @marks = marks
        @needed = columns
        columns += optional
        @figures = columns.map { |column| figures.include?(column) }
        @path = path
        @name =
          name ||
            (
              if path == SpreadsheetText::STANDARD
                Wording.t("files.standard_input")
              else
                File.basename(path.to_s)
              end
            )
        @columns = columns
      end

      # whether it may come as other programs save it
      def foreign? = @foreign

      # Yields [row, line] for every row: row is an Array of Strings in the order of `columns`,
      # stripped and never nil; line counts from 1. Raises Faulty.
      def each
        line = 0
        text = SpreadsheetText.read(@path, columns: @columns, foreign: @foreign)
        null(text)
        csv = CSV.new(text.body, col_sep: text.separator, liberal_parsing: false)
        first = csv.shift
        places = header(first)
        while (fields = csv.shift)
          line = csv.lineno + text.before
          next if fields.empty? || fields.all?(&:nil?)

          yield row(fields, first.size, places, line), line
        end
        fault(2, Wording.t("files.no_rows")) if line.zero?
      rescue SpreadsheetText::Wide
        fault(1, Wording.t("files.utf_16_text_save"))
      rescue SpreadsheetText::Undecodable => e
        fault(e.line, Wording.t("files.not_utf_8_text"))
      rescue CSV::MalformedCSVError => e
        fault(
          e.line_number + text.before,
          Wording.t(
            "files.not_well_formed_csv",
            fault: e.message.sub(/ in line \d+\.?/, "").chomp(".")
          )
        )
      rescue Errno::ENOENT
        raise Faulty, Wording.t("files.no_such_file_look", name: name, path: @path)
      rescue Errno::EISDIR, Errno::EACCES => e
        raise Faulty,
              Wording.t(
                "files.unreadable_csv",
                name: name,
                fault: e.message.split(" @").first.downcase
              )
      end

      # Raises Faulty for this file at a line.
      def fault(line, sentence) = raise(Faulty.new(sentence(line, sentence), line: line))
      def sentence(line, text) = "#{name} line #{line}: #{text}"

      # All rows as [[line, { column => text }], ...], without what is empty. Raises Faulty where there
      # are more than `most` (nil for any number), with its own sentence where it is given.
      def listed(most, sentence = Wording.t("files.too_many_brought", most: most))
        found = []
        each do |fields, line|
          fault(line, sentence) if most && found.size >= most

          found << [line, @columns.zip(fields).to_h.reject { |_, text| text.empty? }]
        end
        found
      end

      private

      def null(text)
        at = text.body.lines.index { |one| one.include?("\0") } or return
        fault(at + 1 + text.before, Wording.t("files.null_byte"))
      end

      # the columns' texts; fields that a spreadsheet leaves empty at the end of a line are none
      def row(fields, width, places, line)
        fields = fields[0, width] if @foreign && fields.size > width &&
          fields[width..].all? { |one| one.to_s.strip.empty? }
        unless fields.size == width
          fault(line, Wording.t("files.other_width", many: fields.size, width: width))
        end
        cells = places.map { |place| tidy(place && fields[place]) }
        if @marks
          cells.zip(@figures).map { |cell, figure| figure ? plain(cell, line) : cell }
        else
          cells
        end
      end

      # a figure as the file is said to write it, put plainly
      def plain(cell, line)
        @marks.plain(cell) ||
          fault(
            line,
            Wording.t(
              "files.not_written_said_file",
              cell: cell[0, 30],
              marks: Wording.marks(@marks)
            )
          )
      end

      # a blank that does not break is a blank
      def tidy(text) = text.to_s.tr("\u00A0\u2007\u202F", " ").strip

      # our names of the columns, where there is one; what a spreadsheet leaves empty at the end is none
      def names_of(fields)
        return fields.map { |field| field.to_s.strip } unless @foreign

        last = fields.rindex { |field| !field.to_s.strip.empty? }
        fields.first(last + 1).map { |field| Columns.meant(field, @columns) || field.to_s.strip }
      end

      def header(fields)
        if fields.nil? || fields.compact.empty?
          fault(1, Wording.t("files.empty_file", columns: @columns.join(",")))
        end

        names = names_of(fields)
        unknown = names - @columns
        missing = @needed - names
        if unknown.any?
          fault(
            1,
            Wording.t(
              "files.has_unknown_columns_columns",
              unknown: unknown.map(&:inspect).join(", "),
              columns: @columns.join(",")
            )
          )
        end
        if missing.any?
          fault(
            1,
            Wording.t(
              "files.lacks_columns_columns",
              missing: missing.join(", "),
              columns: @columns.join(",")
            )
          )
        end
        twice = names.tally.find { |_, count| count > 1 }&.first
        fault(1, Wording.t("files.names_column_twice_keep", twice: twice)) if twice

        @columns.map { |column| names.index(column) }
      end
    end
  end
end

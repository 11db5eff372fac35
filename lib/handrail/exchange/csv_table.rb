# frozen_string_literal: true

require "English"
require "csv"

module Handrail
  module Exchange
    # Reads a CSV file (RFC 4180, UTF-8, one header line) with exactly the columns named, row by
    # row.
    class CSVTable
      # The file is not as it must be: the message names file, line and mend.
      class Faulty < Handrail::Error
        attr_reader :line

        def initialize(message = nil, line: 0)
          super(message)
          @line = line
        end
      end

      # how a UTF-16 text begins
      UTF16 = ["\xFF\xFE".b, "\xFE\xFF".b].freeze

      attr_reader :name

      # path - the file; columns - the names that the header must have, in any order; name - what it
      # is called in messages.
      def initialize(path, columns, name: nil)
        @path = path
        @name = name || File.basename(path)
        @columns = columns
      end

      # Yields [row, line] for every row: row is an Array of Strings in the order of `columns`,
      # stripped and never nil; line counts from 1. Raises Faulty.
      def each
        line = 0
        if UTF16.include?(File.binread(@path, 2))
          fault(1, "is UTF-16 text. Save the file again with the encoding UTF-8.")
        end
        File.open(@path, "r:bom|utf-8") do |io|
          csv = CSV.new(checked(io), liberal_parsing: false)
          places = header(csv.shift)
          width = @columns.size
          while (fields = csv.shift)
            line = csv.lineno
            next if fields.empty? || fields.all?(&:nil?)

            if fields.size != width
              fault(
                line,
                "has #{fields.size} fields, the header has #{width}. Quote a field that holds a comma."
              )
            end
            yield places.map { |place| fields[place].to_s.strip }, line
          end
        end
        if line.zero?
          fault(2, "is missing: the file has a header and no rows. Add at least one row.")
        end
      rescue CSV::MalformedCSVError => e
        fault(
          e.line_number,
          "is not well-formed CSV (#{
            e.message.sub(/ in line \d+\.?/, "").chomp(".")
          }). Close every quotation mark."
        )
      rescue Errno::ENOENT
        raise Faulty, "#{name}: there is no such file. Look at the path #{@path}."
      rescue Errno::EISDIR, Errno::EACCES => e
        raise Faulty,
              "#{name}: can not be read (#{e.message.split(" @").first.downcase}). Name a CSV file."
      end

      # Raises Faulty for this file at a line.
      def fault(line, sentence) = raise(Faulty.new(sentence(line, sentence), line: line))
      def sentence(line, text) = "#{name} line #{line}: #{text}"

      # All rows as [[line, { column => text }], ...], without what is empty. Raises Faulty where there
      # are more than `most`.
      def listed(most)
        found = []
        each do |fields, line|
          if found.size >= most
            fault(line, "is more than is brought in at once: #{most} rows at most. Split the file.")
          end
          found << [line, @columns.zip(fields).to_h.reject { |_, text| text.empty? }]
        end
        found
      end

      private

      def checked(io) = LineCheck.new(io, self)

      def header(fields)
        if fields.nil? || fields.compact.empty?
          fault(1, "is missing: the file is empty. The first line is #{@columns.join(",")}.")
        end

        names = fields.map { |field| field.to_s.strip }
        unknown = names - @columns
        missing = @columns - names
        if unknown.any?
          fault(
            1,
            "has unknown columns: #{unknown.map(&:inspect).join(", ")}. The columns are #{@columns.join(",")}."
          )
        end
        if missing.any?
          fault(
            1,
            "lacks the columns #{missing.join(", ")}. The columns are #{@columns.join(",")}."
          )
        end
        twice = names.tally.find { |_, count| count > 1 }&.first
        fault(1, "names the column #{twice} twice. Keep one.") if twice

        @columns.map { |column| names.index(column) }
      end

      # An IO that looks at the encoding of what passes through.
      class LineCheck
        def initialize(io, table)
          @io = io
          @table = table
          @lines = 0
        end

        def gets(separator = $INPUT_RECORD_SEPARATOR, limit = nil, **options)
          text = limit ? @io.gets(separator, limit, **options) : @io.gets(separator, **options)
          if text
            unless text.valid_encoding?
              bad = text.lines.index { |part| !part.valid_encoding? }
              @table.fault(
                @lines + bad + 1,
                "is not UTF-8 text. Save the file again with the encoding UTF-8."
              )
            end
            if text.include?("\0")
              @table.fault(
                @lines + 1,
                "holds a null byte, so this is no CSV text. Save the file as CSV, UTF-8."
              )
            end
            @lines += text.count("\n")
          end
          text
        end

        def eof? = @io.eof?
        def external_encoding = @io.external_encoding
        def internal_encoding = @io.internal_encoding
        def pos = @io.pos
        def rewind = @io.rewind
        def lineno = @io.lineno
      end
      private_constant :LineCheck
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Exchange
    # The text of a table as spreadsheets save it: UTF-8 with and without a mark of its byte order, UTF-16, or
    # Windows-1252; lines ended in any way; fields apart by comma, semicolon or tab, or by what a first line `sep=;`
    # says.
    #
    #   text = SpreadsheetText.read("levels.csv", columns: %w[person date side])
    #   text.body       # => String, UTF-8, lines ended by \n, without the line that names the separator
    #   text.separator  # => ";"
    #   text.before     # => lines that stood above the header
    #
    # Raises Undecodable, with the line, for bytes that could be more than one letter: nothing is guessed.
    class SpreadsheetText
      # A byte that is no letter for certain.
      class Undecodable < Handrail::Error
        attr_reader :line

        def initialize(line)
          super("line #{line}")
          @line = line
        end
      end

      # UTF-16, where UTF-8 is asked for.
      class Wide < Handrail::Error
      end

      SEPARATORS = [",", ";", "\t"].freeze
      NAMED = /\A"?sep=(?<separator>[,;\t])"?\n/
      # bytes that mean the same in Windows-1252 and Latin-1 and stand in names and figures of western Europe, and the
      # signs of Windows-1252; another one is a letter of another alphabet's table
      PLAIN = "ÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØÙÚÛÜßàáâãäåæçèéêëìíîïñòóôõöøùúûü°½¼¾²³·\u00A0€–—‘’“”"
      # how a text in UTF-16 begins => what it is
      WIDE = { "\xFF\xFE".b => "UTF-16LE", "\xFE\xFF".b => "UTF-16BE" }.freeze
      STANDARD = "-"
      ONCE = Memory.new(8)
      private_constant :PLAIN, :WIDE, :ONCE

      attr_reader :body, :separator, :before

      # path - a file, or "-" for standard input; columns - names of which the header has some; foreign - whether it
      # may come from another program: else it is UTF-8 with commas, as the commands have always asked
      def self.read(path, columns:, foreign:) = new(bytes(path), columns, foreign)

      # what can be read only once is kept: a table may be gone through twice
      def self.bytes(path)
        if path != STANDARD && (File.file?(path) || !File.exist?(path) || File.directory?(path))
          return File.binread(path)
        end

        ONCE.remember(path) { (path == STANDARD ? $stdin.binmode.read : File.binread(path)).freeze }
      end
      private_class_method :bytes

      def initialize(bytes, columns, foreign)
        text = (foreign ? decoded(bytes) : utf8(bytes)).gsub(/\r\n?/, "\n")
        named = foreign && NAMED.match(text)
        @before = named ? 1 : 0
        @body = named ? named.post_match : text
        @separator =
          if named
            named[:separator]
          else
            foreign ? likely(@body.lines.first.to_s, columns) : ","
          end
      end

      # Whether a text begins as UTF-16 does.
      def self.wide?(bytes) = WIDE.key?(bytes[0, 2])

      private

      def utf8(bytes)
        raise Wide if self.class.wide?(bytes)

        text = bytes.dup.force_encoding("UTF-8").delete_prefix("\uFEFF")
        return text if text.valid_encoding?

        raise Undecodable, text.lines.index { |line| !line.valid_encoding? } + 1
      end

      def decoded(bytes)
        wide = WIDE[bytes[0, 2]]
        return bytes[2..].force_encoding(wide).encode("UTF-8") if wide

        text = bytes.dup.force_encoding("UTF-8").delete_prefix("\uFEFF")
        text.valid_encoding? ? text : western(bytes)
      rescue EncodingError
        raise Undecodable, 1
      end

      def western(bytes)
        bytes
          .lines
          .each_with_index
          .map do |line, i|
            plain = line.dup.force_encoding("Windows-1252").encode("UTF-8")
            odd = plain.each_char.find { |one| one.ord > 127 && !PLAIN.include?(one) }
            raise Undecodable, i + 1 if odd

            plain
          rescue EncodingError
            raise Undecodable, i + 1
          end
          .join
      end

      # that by which the header has most of the columns; a comma where that does not tell
      def likely(header, columns)
        SEPARATORS.max_by.with_index do |one, i|
          names = header.chomp.split(one, -1).map { |name| Columns.plain(name.delete('"')) }
          [names.count { |name| Columns.known?(name, columns) }, -i]
        end
      end
    end
  end
end

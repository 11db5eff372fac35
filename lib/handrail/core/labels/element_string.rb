# frozen_string_literal: true

require "date"

module Handrail
  # What is printed on a piece's own label.
  module Labels
    # A bar code as a reader types it: a GS1 element string, with its application identifiers in brackets or, as
    # scanned, one after another with a separator after each that has no length of its own.
    #
    #   ElementString.read("(01)09506000134352(17)271130(10)A12(21)77").serial     # => "77"
    #   ElementString.read("]d2010950600013435217271130" "10A12\u{1D}2177").lot     # => "A12"
    #   ElementString.read("WH-20501")                                            # => nil: no element string
    #
    # Kept are 01 (the product's number, GTIN), 10 (lot), 11 (made on), 17 (to be used by), 21 (serial number); what
    # else there is must be whole, and is passed over. Raises Unsound, with why in words, for what can not be right: a
    # check digit, a day that there is not, an identifier that is unknown or stands twice, and a lot or number that
    # may end in two places because the reader sends no separators.
    #
    # Source: GS1 General Specifications, release 24: application identifiers 3.2, check digit 7.9, two figures of a
    # year 7.12 (all from memory).
    module ElementString
      class Unsound < ArgumentError
      end

      # gtin - 14 figures; made_on, use_by - Dates; each nil where the label does not say it
      Label = Value.new(:gtin, :lot, :made_on, :use_by, :serial)

      NAMES = {
        "01" => :gtin,
        "10" => :lot,
        "11" => :made_on,
        "17" => :use_by,
        "21" => :serial
      }.freeze
      # identifier => how many figures; those with a Range end at the separator
      LENGTHS = {
        "00" => 18,
        "01" => 14,
        "02" => 14,
        "10" => 1..20,
        "11" => 6,
        "12" => 6,
        "13" => 6,
        "15" => 6,
        "16" => 6,
        "17" => 6,
        "20" => 2,
        "21" => 1..20,
        "22" => 1..20,
        "240" => 1..30,
        "241" => 1..30,
        "250" => 1..30,
        "30" => 1..8,
        "37" => 1..8
      }.freeze
      # what a reader puts before the text to say which kind of code it read; and for its separator
      PREFIX = /\A\](?:C1|d2|Q3|e0|J1)/
      SEPARATOR = /[\u{1D}\u{241D}]/
      # letters and signs of a lot or number
      SIGNS = %r{\A[!"%&'()*+,\-./0-9:;<=>?A-Z_a-z]+\z}
      # of a day without a day of the month, its last
      NO_DAY = "00"

      class << self
        # A Label; nil where the text is no element string. today - decides which century two figures mean
        def read(text, today: Date.today)
          return unless like?(text)

          plain = text.scrub.strip
          found = plain.start_with?("(") ? bracketed(plain) : scanned(plain.sub(PREFIX, ""))
          twice = found.map(&:first).tally.find { |_, count| count > 1 }
          raise Unsound, "(#{twice.first}) stands twice in this bar code." if twice

          label(found.to_h, today)
        end

        # Whether a text is meant to be one: it begins with a bracket, a reader's prefix, or a whole product's number.
        def like?(text) =
          text.to_s.scrub.strip.match?(/\A\(\d{2,4}\)|#{PREFIX}|\A01\d{14}(?:\D|\d{2})/o)

        # The last figure that the others make: from the right, three times every other one.
        def check_digit(figures)
          sum = figures.reverse.chars.each_with_index.sum { |one, i| one.to_i * (i.even? ? 3 : 1) }
          (-sum % 10).to_s
        end

        private

        def bracketed(text)
          found = text.scan(/\((\d{2,4})\)([^(]*)/)
          whole = found.map { |key, value| "(#{key})#{value}" }.join
          raise Unsound, "This bar code is not whole." unless whole == text

          found.each { |key, value| fits!(key, value) }
        end

        def scanned(text)
          found = []
          separated = text.match?(SEPARATOR)
          until text.empty?
            key = LENGTHS.keys.find { |one| text.start_with?(one) } or
              raise Unsound,
                    "“#{text[0, 8]}” in this bar code begins with no identifier that is known."
            value, text = cut(key, text.delete_prefix(key), separated)
            fits!(key, value)
            found << [key, value]
          end
          found
        end

        # [what belongs to the identifier, what comes after it]
        def cut(key, rest, separated)
          length = LENGTHS.fetch(key)
          if length.is_a?(Integer)
            return rest[0, length], rest[length..].to_s.sub(/\A#{SEPARATOR}/o, "")
          end

          value, rest = rest.split(SEPARATOR, 2)
          return value.to_s, rest if rest

          ends!(key, value.to_s) unless separated
          [value.to_s, ""]
        end

        # without a separator anywhere, a number may be hidden in the lot: labels have the lot first
        def ends!(key, value)
          return unless key == "10" && value.match?(/.21./)

          raise Unsound,
                "The reader sends no separators, and (#{key}) may end in more than one place. Type the number, " \
                  "or set the reader to send them."
        end

        def fits!(key, value)
          length = LENGTHS[key] or raise Unsound, "(#{key}) in this bar code is not known."
          right =
            (
              if length.is_a?(Integer)
                value.match?(/\A\d{#{length}}\z/)
              else
                length.cover?(value.length) && value.match?(SIGNS)
              end
            )
          raise Unsound, "(#{key}) in this bar code is not whole: “#{value[0, 30]}”." unless right
        end

        def label(found, today)
          values = NAMES.to_h { |key, name| [name, found[key]] }
          gtin = values[:gtin]
          if gtin && check_digit(gtin[0..-2]) != gtin[-1]
            raise Unsound,
                  "The product's number #{gtin} is misread: its last figure does not go with " \
                    "the others. Is all of it the piece's own number, type it with a blank in it."
          end

          Label[
            **values,
            made_on: day(values[:made_on], today),
            use_by: day(values[:use_by], today)
          ]
        end

        # YYMMDD, the year within fifty of this one
        def day(figures, today)
          return unless figures

          year = (today.year / 100 * 100) + figures[0, 2].to_i
          ahead = figures[0, 2].to_i - (today.year % 100)
          year -= 100 if ahead >= 51
          year += 100 if ahead <= -50
          month = figures[2, 2].to_i
          return Date.new(year, month, -1) if figures[4, 2] == NO_DAY

          Date.new(year, month, figures[4, 2].to_i)
        rescue Date::Error
          raise Unsound, "#{figures} in this bar code is no day."
        end
      end
    end
  end
end

# frozen_string_literal: true

require "date"

module Handrail
  module Quantity
    # Reading and writing days as a clinic does: 24 Nov 2026.
    module Day
      # What was typed is no day; the message shows a form that is accepted.
      class Unreadable < Handrail::Error
      end

      MONTHS =
        Date::ABBR_MONTHNAMES
          .compact
          .each_with_index
          .to_h { |name, i| [name.downcase, i + 1] }
          .freeze
      EXAMPLE = "Write it like 14 Mar 1961, 14.3.1961 or 1961-03-14."
      FORMS = [
        /\A(?<year>\d{4})-(?<month>\d{1,2})-(?<day>\d{1,2})\z/,
        /\A(?<day>\d{1,2})\.\s?(?<month>\d{1,2})\.\s?(?<year>\d{4})\z/,
        /\A(?<day>\d{1,2})\.?\s+(?<word>[[:alpha:]]{3})[[:alpha:]]*\.?,?\s+(?<year>\d{4})\z/
      ].freeze
      SLASHES = %r{\A(?<first>\d{1,2})/(?<second>\d{1,2})/(?<year>\d{4})\z}

      # Reads a day. With slashes day and month are told apart only where one is above 12. Returns a
      # Date; raises Unreadable.
      def self.read(text)
        text = text.to_s.strip
        raise Unreadable, "No date was written. #{EXAMPLE}" if text.empty?

        Date.new(*parts(text))
      rescue Date::Error
        raise Unreadable, "“#{text[0, 30]}” is no day of the calendar. #{EXAMPLE}"
      end

      def self.write(date) = date.strftime("%-d %b %Y")

      # [year, month, day]
      def self.parts(text)
        match = FORMS.filter_map { |form| form.match(text) }.first or return slashes(text)
        found = match.named_captures
        month = found["word"] ? MONTHS.fetch(found["word"].downcase, 0) : found["month"].to_i
        [found["year"].to_i, month, found["day"].to_i]
      end

      def self.slashes(text)
        match = SLASHES.match(text) or
          raise Unreadable, "“#{text[0, 30]}” can not be read as a date. #{EXAMPLE}"
        first, second, year = match.captures.map(&:to_i)
        return year, second, first if first > 12
        return year, first, second if second > 12 || first == second

        raise Unreadable, "“#{text}” can be read two ways. Write the month as a word: 3 Apr 1961."
      end
      private_class_method :parts, :slashes
    end
  end
end

# frozen_string_literal: true

require "date"

module Handrail
  module Quantity
    # Reading and writing days as a clinic does: 24 Nov 2026.
    module Day
      # What was typed is no day; the message shows a form that is accepted.
      class Unreadable < Handrail::Error; end

      MONTHS = Date::ABBR_MONTHNAMES.compact.each_with_index.to_h { |name, i| [name.downcase, i + 1] }.freeze
      EXAMPLE = "Write it like 14 Mar 1961, 14.3.1961 or 1961-03-14."

      # Reads a day. With slashes day and month are told apart only where one is above 12. Returns a Date; raises Unreadable.
      def self.read(text)
        text = text.to_s.strip
        raise Unreadable, "No date was written. #{EXAMPLE}" if text.empty?

        Date.new(*parts(text))
      rescue Date::Error
        raise Unreadable, "“#{text[0, 30]}” is no day of the calendar. #{EXAMPLE}"
      end

      def self.write(date) = date.strftime("%-d %b %Y")

      def self.parts(text)
        case text
        when /\A(\d{4})-(\d{1,2})-(\d{1,2})\z/ then [$1, $2, $3].map(&:to_i)
        when /\A(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})\z/ then [$3, $2, $1].map(&:to_i)
        when /\A(\d{1,2})\.?\s+([[:alpha:]]{3})[[:alpha:]]*\.?,?\s+(\d{4})\z/ then [$3.to_i, MONTHS.fetch($2.downcase, 0), $1.to_i]
        when %r{\A(\d{1,2})/(\d{1,2})/(\d{4})\z} then slashes(text, $1.to_i, $2.to_i, $3.to_i)
        else raise Unreadable, "“#{text[0, 30]}” can not be read as a date. #{EXAMPLE}"
        end
      end

      def self.slashes(text, first, second, year)
        return [year, second, first] if first > 12
        return [year, first, second] if second > 12 || first == second

        raise Unreadable, "“#{text}” can be read two ways. Write the month as a word: 3 Apr 1961."
      end
      private_class_method :parts, :slashes
    end
  end
end

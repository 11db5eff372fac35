# frozen_string_literal: true

require "date"

module Handrail
  module Quantity
    # Reading and writing days as a clinic does: 24 Nov 2026.
    module Day
      # What was typed is no day; the message shows a form that is accepted.
      class Unreadable < Quantity::Unreadable
      end

      # of which three letters or more are enough
      MONTHS = Date::MONTHNAMES.compact.map(&:downcase).freeze
      EXAMPLE = "Write it like 14 Mar 1961, 14.3.1961 or 1961-03-14."
      FORMS = [
        /\A(?<year>\d{4})-(?<month>\d{1,2})-(?<day>\d{1,2})\z/,
        /\A(?<day>\d{1,2})\.\s?(?<month>\d{1,2})\.\s?(?<year>\d{4})\z/,
        /\A(?<day>\d{1,2})\.?\s+(?<word>[[:alpha:]]{3,})\.?,?\s+(?<year>\d{4})\z/
      ].freeze
      # as it is said of a day that is not long ago
      WITHOUT_YEAR = [
        /\A(?<day>\d{1,2})\.\s?(?<month>\d{1,2})\.?\z/,
        /\A(?<day>\d{1,2})\.?\s+(?<word>[[:alpha:]]{3,})\.?\z/
      ].freeze
      # how many days ago a day without its year may be
      LATELY = 120
      private_constant :WITHOUT_YEAR, :LATELY
      SLASHES = %r{\A(?<first>\d{1,2})/(?<second>\d{1,2})/(?<year>\d{4})\z}

      # Reads a day. With slashes day and month are told apart only where one is above 12, or by which of them
      # stands first: :day or :month, where that is known. Returns a Date; raises Unreadable.
      def self.read(text, first: nil)
        text = text.to_s.strip
        raise Unreadable, "No date was written. #{EXAMPLE}" if text.empty?

        Date.new(*parts(text, first))
      rescue Date::Error
        raise Unreadable, "“#{text[0, 30]}” is no day of the calendar. #{EXAMPLE}"
      end

      # Reads a day of the past. One without its year, 24 Nov or 24.11., is the last one up to today, where that is no
      # longer ago than four months; else the year has to be written. today - a Date. Returns a Date; raises Unreadable.
      def self.recent(text, today:)
        read(text)
      rescue Unreadable => e
        lately(text.to_s.strip, today) or raise e
      end

      def self.write(date) = date.strftime("%-d %b %Y")

      # The newest day that has begun anywhere at an instant (the clocks furthest east are 14 hours ahead of UTC, by
      # the tz database): what was written on another clock may be a day ahead of ours. now - a Time; a Date.
      def self.newest(now) = (now.getutc + (14 * 3600)).to_date

      # What a column of texts says of the order of day and month between slashes: [:day] or [:month] where one
      # order serves all, both where none tells or they contradict one another; empty where none needs it.
      def self.orders(texts)
        found = texts.filter_map { |text| SLASHES.match(text.to_s.strip) }
        pairs = found.map { |match| [match[:first].to_i, match[:second].to_i] }
        return [] if pairs.none? { |one, other| open?(one, other) }

        serving =
          { day: 1, month: 0 }.select { |_, month| pairs.all? { |pair| pair[month] <= 12 } }.keys
        serving.empty? ? %i[day month] : serving
      end

      # Whether two numbers may be day and month, or month and day.
      def self.open?(one, other) = one <= 12 && other <= 12 && one != other
      private_class_method :open?

      def self.lately(text, today)
        match = WITHOUT_YEAR.filter_map { |form| form.match(text) }.first or return
        found = match.named_captures
        month = found["word"] ? month_of(found["word"].downcase) : found["month"].to_i
        days =
          [today.year, today.year - 1].map do |year|
            Date.new(year, month, found["day"].to_i)
          rescue Date::Error
            nil
          end
        days.compact.grep((today - LATELY)..today).first
      end

      # [year, month, day]
      def self.parts(text, first)
        match = FORMS.filter_map { |form| form.match(text) }.first or return slashes(text, first)
        found = match.named_captures
        month = found["word"] ? month_of(found["word"].downcase) : found["month"].to_i
        [found["year"].to_i, month, found["day"].to_i]
      end

      # another language's month begins like ours and is another one
      def self.month_of(word)
        word = "sep" if word == "sept"
        (MONTHS.index { |name| name.start_with?(word) } || -1) + 1
      end

      def self.slashes(text, order)
        match = SLASHES.match(text) or
          raise Unreadable, "“#{text[0, 30]}” can not be read as a date. #{EXAMPLE}"
        first, second, year = match.captures.map(&:to_i)
        return year, second, first if first > 12
        return year, first, second if second > 12 || first == second || order == :month
        return year, second, first if order == :day

        raise Unreadable, "“#{text}” can be read two ways. Write the month as a word: 3 Apr 1961."
      end
      private_class_method :lately, :parts, :slashes, :month_of
    end
  end
end

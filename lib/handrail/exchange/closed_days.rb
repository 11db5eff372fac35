# frozen_string_literal: true

require "icalendar"

module Handrail
  module Exchange
    # Days on which a clinic is closed, read from a calendar file (RFC 5545): every event that lasts
    # whole days. Events at a time of day are left out and counted.
    #
    #   ClosedDays.read(File.read("holidays.ics")).lines # => ["25 Dec 2026", "1 Jan 2027 to 3 Jan 2027"]
    class ClosedDays
      # The file is no calendar, or holds no whole day.
      class Unreadable < Handrail::Error
      end

      # lines - as the settings write them; left - events that were left out
      Found = Value.new(:lines, :left)

      # the largest file that is read, and the longest event, in days
      MOST_BYTES = 1_000_000
      MOST_DAYS = 400

      class << self
        # text - of the file. Returns Found. Raises Unreadable.
        def read(text)
          text = text.to_s.dup.force_encoding(Encoding::UTF_8)
          raise Unreadable, "That file is larger than a megabyte." if text.bytesize > MOST_BYTES
          unless text.valid_encoding? && text.include?("BEGIN:VCALENDAR")
            raise Unreadable, "That is no calendar file (.ics)."
          end

          events = Icalendar::Calendar.parse(text).flat_map(&:events)
          whole, others = events.partition { |event| whole?(event) }
          raise Unreadable, "There is no event in it that lasts a whole day." if whole.empty?

          Found[
            lines: whole.map { |event| span(event) }.sort.uniq.map { |from, to| line(from, to) },
            left: others.size
          ]
        rescue Icalendar::Parser::ParseError, ArgumentError, NoMethodError
          raise Unreadable, "That calendar file can not be read."
        end

        private

        def whole?(event) =
          event.dtstart.is_a?(Icalendar::Values::Date) && event.status.to_s != "CANCELLED"

        # [first, last]: the end of an event is the day after it
        def span(event)
          from = Date.new(event.dtstart.year, event.dtstart.month, event.dtstart.day)
          ends = event.dtend
          last = ends ? Date.new(ends.year, ends.month, ends.day) - 1 : from
          [from, last.clamp(from, from + MOST_DAYS - 1)]
        end

        def line(from, to)
          if from == to
            Quantity::Day.write(from)
          else
            "#{Quantity::Day.write(from)} to #{Quantity::Day.write(to)}"
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

require "ice_cube"
require "icalendar"

module Handrail
  module Exchange
    # Days on which a clinic is closed, read from a calendar file (RFC 5545): every event that lasts
    # whole days, and the next years of one that comes again (RRULE). Events at a time of day are left
    # out and counted.
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
      MOST_EVENTS = 1000
      # how far ahead one that comes again is written out
      AHEAD_YEARS = 2

      class << self
        # text - of the file; today - from when on those that come again are written out. Returns
        # Found. Raises Unreadable.
        def read(text, today: Date.today)
          text = text.to_s.dup.force_encoding(Encoding::UTF_8)
          raise Unreadable, "That file is larger than a megabyte." if text.bytesize > MOST_BYTES
          unless text.valid_encoding? && text.include?("BEGIN:VCALENDAR")
            raise Unreadable, "That is no calendar file (.ics)."
          end

          if text.scan("BEGIN:VEVENT").size > MOST_EVENTS
            raise Unreadable,
                  "That calendar has more than #{MOST_EVENTS} events. Send the closed days alone."
          end

          events = parsed(text).flat_map(&:events)
          whole, others = events.partition { |event| whole?(event) }
          raise Unreadable, "There is no event in it that lasts a whole day." if whole.empty?

          Found[
            lines:
              whole
                .flat_map { |event| spans(event, today) }
                .sort
                .uniq
                .map { |from, to| line(from, to) },
            left: others.size
          ]
        end

        private

        # the library stumbles over what is no calendar in many ways, each of them its own
        def parsed(text)
          Icalendar::Calendar.parse(text)
        rescue StandardError
          raise Unreadable, "That calendar file can not be read."
        end

        def whole?(event) =
          event.dtstart.is_a?(Icalendar::Values::Date) && event.status.to_s != "CANCELLED"

        # [[first, last], ...]: of one that comes again, those of the years ahead
        def spans(event, today)
          first, last = span(event)
          rules = event.rrule.to_a
          return [[first, last]] if rules.empty?

          repeated(rules, event, first, today).map { |from| [from, from + (last - first)] }
        end

        # the days on which it begins, none before last year and none after the years ahead
        def repeated(rules, event, first, today)
          schedule = IceCube::Schedule.new(midnight(first))
          rules.each do |rule|
            schedule.add_recurrence_rule(IceCube::IcalParser.rule_from_ical(rule.value_ical))
          end
          event.exdate.flatten.each { |day| schedule.add_exception_time(midnight(day)) }
          from = Date.new(today.year, 1, 1)
          to = Date.new(today.year + AHEAD_YEARS, 12, 31)
          schedule.occurrences_between(midnight(from), midnight(to)).map(&:to_date)
        rescue ArgumentError
          raise Unreadable, "An event comes again by a rule that can not be read."
        end

        # [first, last]: the end of an event is the day after it
        def span(event)
          from = Date.new(event.dtstart.year, event.dtstart.month, event.dtstart.day)
          ends = event.dtend
          last = ends ? Date.new(ends.year, ends.month, ends.day) - 1 : from
          [from, last.clamp(from, from + MOST_DAYS - 1)]
        end

        def midnight(day) = Time.utc(day.year, day.month, day.day)

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

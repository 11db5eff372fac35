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
          if text.to_s.bytesize > MOST_BYTES
            raise Unreadable, Wording.t("files.file_larger_than_megabyte")
          end

          text = decoded(text)
          unless text.match?(/^BEGIN:VCALENDAR/i)
            raise Unreadable, Wording.t("files.no_calendar_file_ics")
          end
          if text.match?(/^METHOD:\s*CANCEL/i)
            raise Unreadable, Wording.t("files.calendar_takes_days_back")
          end

          if text.scan(/^BEGIN:VEVENT/i).size > MOST_EVENTS
            raise Unreadable, Wording.t("files.too_many_events", most_events: MOST_EVENTS)
          end

          events = parsed(text).flat_map(&:events)
          whole, others = events.partition { |event| whole?(event) }
          raise Unreadable, Wording.t("files.no_event_lasts_whole") if whole.empty?

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

        # a line that is folded may be folded within a letter: its bytes are joined first
        def decoded(text)
          bytes = text.to_s.b.delete_prefix("\uFEFF".b).gsub(/\r?\n[ \t]/n, "".b)
          utf8 = bytes.dup.force_encoding(Encoding::UTF_8)
          plain =
            (
              if utf8.valid_encoding?
                utf8
              else
                bytes.force_encoding(Encoding::Windows_1252).encode("UTF-8")
              end
            )
          # names of properties are written in any case
          plain
            .gsub(/^[A-Za-z-]+(?=[:;])/, &:upcase)
            .gsub(/^(BEGIN|END):(\w+)/) { "#{Regexp.last_match(1)}:#{Regexp.last_match(2).upcase}" }
        rescue EncodingError
          raise Unreadable, Wording.t("files.no_calendar_file_ics")
        end

        # the library stumbles over what is no calendar in many ways, each of them its own
        def parsed(text)
          Icalendar::Calendar.parse(text)
        rescue StandardError
          raise Unreadable, Wording.t("files.unreadable_calendar")
        end

        def whole?(event) =
          event.dtstart.is_a?(Icalendar::Values::Date) && !event.status.to_s.casecmp?("CANCELLED")

        # [[first, last], ...]: of one that comes again, those of the years ahead
        def spans(event, today)
          first, last = span(event)
          begins = event.rrule.to_a.empty? ? [first] : repeated(event.rrule.to_a, first, today)
          away = days_of(event.exdate)
          ((begins | days_of(event.rdate)) - away).map { |from| [from, from + (last - first)] }
        end

        # the days on which it begins, none before last year and none after the years ahead
        def repeated(rules, first, today)
          schedule = IceCube::Schedule.new(midnight(first))
          rules.each do |rule|
            schedule.add_recurrence_rule(IceCube::IcalParser.rule_from_ical(rule.value_ical))
          end
          from = Date.new(today.year, 1, 1)
          to = Date.new(today.year + AHEAD_YEARS, 12, 31)
          schedule.occurrences_between(midnight(from), midnight(to)).map(&:to_date)
        rescue ArgumentError
          raise Unreadable, Wording.t("files.event_comes_again_rule")
        end

        # of EXDATE or RDATE, as Dates
        def days_of(values)
          values.to_a.flatten.filter_map do |one|
            Date.new(one.year, one.month, one.day) if one.respond_to?(:month)
          end
        end

        # [first, last]: the end of an event is the day after it
        def span(event)
          from = Date.new(event.dtstart.year, event.dtstart.month, event.dtstart.day)
          ends = event.dtend
          last =
            if ends
              Date.new(ends.year, ends.month, ends.day) - 1
            elsif event.duration
              from + (event.duration.weeks.to_i * 7) + event.duration.days.to_i - 1
            else
              from
            end
          if last >= from + MOST_DAYS
            raise Unreadable,
                  Wording.t("files.lasts_too_long", summary: event.summary, most_days: MOST_DAYS)
          end
          [from, [from, last].max]
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

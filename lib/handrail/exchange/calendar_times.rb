# frozen_string_literal: true

require "icalendar"
require "icalendar/tzinfo"

module Handrail
  module Exchange
    # Times of calendars that go out (RFC 5545): on the clinic's own clock, the rules of its zone (VTIMEZONE) beside
    # them, so that a program that does not know the zone shows the same hour; a clinic on UTC has Z.
    #
    #   times = CalendarTimes.new("Europe/London")
    #   times.begin(calendar, visits.map(&:planned_for)) # the rules, where there are any
    #   event.dtstart = times.local(visit.planned_for)
    class CalendarTimes
      UTC = %w[UTC Etc/UTC].freeze

      def initialize(zone)
        @zone = TZInfo::Timezone.get(zone)
        @utc = UTC.include?(zone)
      end

      # Adds the rules of the zone as they are at these moments, and today's where there is none: a calendar with
      # nothing in it is invalid.
      def begin(calendar, moments, today:)
        return if @utc

        moments = [today] if moments.empty?
        # one set of rules serves all years in which it holds. They are asked for from a noon on: the gem reads the
        # moment as one of the zone's own clock, and an hour that the clocks leave out is none
        first = moments.min.getutc.to_date - 1
        calendar.add_timezone(@zone.ical_timezone(Time.utc(first.year, first.month, first.day, 12)))
      end

      # In the hour that comes twice, when the clocks go back, the clock alone does not tell: it is said in UTC.
      def local(moment)
        return utc(moment) if @utc

        here = @zone.utc_to_local(moment.getutc)
        return utc(moment) if @zone.periods_for_local(here).size > 1

        Icalendar::Values::DateTime.new(here.strftime("%Y%m%dT%H%M%S"), "tzid" => @zone.identifier)
      end

      def utc(moment) = Icalendar::Values::DateTime.new(moment.getutc, "tzid" => "UTC")
    end
  end
end

# frozen_string_literal: true

require "icalendar"

module Handrail
  module Exchange
    # A clinic's booked visits, and first appointments of newcomers, as a calendar (RFC 5545) for somebody's own
    # program: initials, time and which kind of visit; the device and its side for who fits it only. Nothing that was
    # found, nor what a newcomer said. A visit keeps its UID; SEQUENCE counts up with what is written on it, DTSTAMP
    # says when that was, and one that does not take place is sent as cancelled.
    class ClinicCalendar
      MINUTES = { "first" => 60, "recheck" => 30 }.freeze
      # what the front desk reads in place of the device
      KINDS = Wording.names("appointments")
      # how the numbers of visits and of first appointments are told apart
      NUMBERED = Hash.new("visit").merge("newcomer" => "first").freeze

      # clinic - answers name, place, key and time_zone; rows - see Store::CalendarKeys.visits; now - Time; clinical -
      # whether the reader does clinical work
      def initialize(clinic, rows, now:, clinical: true)
        @clinic = clinic
        @rows = rows
        @now = now
        @clinical = clinical
      end

      def to_ical
        calendar = Icalendar::Calendar.new
        calendar.prodid = "-//Handrail//Visits//EN"
        calendar.publish
        calendar.append_custom_property("X-WR-CALNAME", @clinic.name)
        times.begin(calendar, @rows.map { |row| row[:planned_for] }, today: @now)
        @rows.each { |row| calendar.add_event(event(row)) }
        calendar.to_ical
      end

      private

      def event(row)
        from = row[:planned_for]
        made = Icalendar::Event.new
        made.uid = "#{NUMBERED[row[:purpose]]}-#{row[:id]}@#{@clinic.key}.handrail"
        made.dtstamp = times.utc(row[:changed_at] || @now)
        made.dtstart = times.local(from)
        made.dtend =
          times.local(row[:planned_to] || (from + (MINUTES.fetch(row[:purpose], 30) * 60)))
        made.sequence = row[:version]
        made.summary = "#{initials(row)}: #{about(row)}"
        made.location = [row[:planned_room], @clinic.place].compact.join(", ")
        made.status = row[:gone] ? "CANCELLED" : "CONFIRMED"
        made
      end

      def about(row) = (row[:title] if @clinical) || KINDS.fetch(row[:purpose])

      def initials(row) =
        [row[:given_name], row[:family_name]].compact.map { |name| "#{name[0]}." }.join(" ")
      def times = @times ||= CalendarTimes.new(@clinic.time_zone)
    end
  end
end

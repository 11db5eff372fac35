# frozen_string_literal: true

require "icalendar"
require "icalendar/tzinfo"

module Handrail
  module Web
    class Visits
      # The break-in and the visits of a wearer as a calendar file (RFC 5545): whole days for the
      # hours to wear, the booked visit at its time, and the day by which the next one is due. Nothing
      # about the wearer's health stands in it but the name of the device.
      class SheetCalendar
        def initialize(page)
          @page = page
        end

        def to_ical
          calendar = Icalendar::Calendar.new
          calendar.prodid = "-//Handrail//Wearer sheet//#{page.language.key.upcase}"
          calendar.publish
          break_in { |event| calendar.add_event(event) }
          visits { |event| calendar.add_event(event) }
          calendar.to_ical
        end

        private

        attr_reader :page

        def visit = page.visit
        def stamp
          Icalendar::Values::DateTime.new(
            (visit.hand_over ? visit.hand_over[:at] : Store.now).getutc,
            "tzid" => "UTC"
          )
        end

        # one event for each stretch of days with the same hours
        def break_in
          return unless visit.hand_over

          page.break_in.each do |first, last, hours|
            said = page.t("hours", count: Families::Number.print(hours))
            yield(
              day_event(
                "wear-#{first}",
                page.handed_on + first - 1,
                page.handed_on + last,
                page.t("calendar.wear", hours: said, device: page.device)
              )
            )
          end
        end

        def visits
          booked =
            visit.visits.select do |row|
              row.planned_for && row.closed_at.nil? && row.called_off_at.nil?
            end
          booked.each { |row| yield visit_event(row) }
          window = visit.next_recheck
          return unless window && booked.empty?

          yield(
            day_event("due", window.to, window.to + 1, page.t("calendar.due", device: page.device))
          )
        end

        def day_event(key, from, to, summary)
          event(key, summary).tap do |made|
            made.dtstart = Icalendar::Values::Date.new(from)
            made.dtend = Icalendar::Values::Date.new(to)
          end
        end

        def visit_event(row)
          at = row.planned_for.getutc
          event("visit-#{row.id}", page.t("calendar.visit", device: page.device)).tap do |made|
            made.dtstart = Icalendar::Values::DateTime.new(at, "tzid" => "UTC")
            ends = row.planned_to&.getutc || (at + (30 * 60))
            made.dtend = Icalendar::Values::DateTime.new(ends, "tzid" => "UTC")
          end
        end

        def event(key, summary)
          made = Icalendar::Event.new
          made.uid = "#{key}-#{visit.fitting.id}@handrail"
          made.dtstamp = stamp
          made.summary = summary
          made.location =
            page.t("calendar.place", clinic: visit.clinic.name, phone: visit.clinic.phone)
          made
        end
      end
    end
  end
end

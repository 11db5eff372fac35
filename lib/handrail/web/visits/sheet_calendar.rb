# frozen_string_literal: true

require "icalendar"

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
          times.begin(calendar, visit.visits.filter_map(&:planned_for), today: Store.now)
          break_in { |event| calendar.add_event(event) }
          visits { |event| calendar.add_event(event) }
          calendar.to_ical
        end

        private

        attr_reader :page

        def visit = page.visit
        def stamp = times.utc(visit.hand_over ? visit.hand_over[:at] : Store.now)

        # one event for each stretch of days with the same hours
        def break_in
          page
            .plans
            .select(&:given?)
            .each do |plan|
              plan.break_in.each do |first, last, hours|
                yield(
                  day_event(
                    ["wear", plan.side, first].compact.join("-"),
                    plan.on(first),
                    plan.on(last) + 1,
                    wear(plan, page.t("hours", count: Families::Number.print(hours)))
                  )
                )
              end
            end
        end

        def wear(plan, hours)
          device = plan.side ? page.device(plan.side) : page.device
          page.t("calendar.wear", hours: hours, device: device)
        end

        def visits
          open = visit.visits.select { |row| row.planned_for && row.closed_at.nil? }
          booked, off = open.partition { |row| row.called_off_at.nil? }
          booked.each { |row| yield visit_event(row) }
          off.each { |row| yield visit_event(row, gone: true) }
          missed.each do |row, times|
            yield visit_event(row, at: times[:planned_for], to: times[:planned_to], gone: true)
          end
          window = visit.wear.next_recheck
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

        # visits that were missed or cancelled and are not booked anew: [row of the visit, the last time that was
        # missed]
        def missed
          visit
            .rows_of_fitting(:missed_visits)
            .group_by { |one| one[:visit_id] }
            .filter_map do |id, times|
              row = visit.visits.find { |one| one.id == id }
              [row, times.last] if row && row.planned_for.nil? && row.closed_at.nil?
            end
        end

        # a visit that was moved or called off is the same one, later: its number grows with what was written
        def visit_event(row, at: row.planned_for, to: row.planned_to, gone: false)
          event("visit-#{row.id}", page.t("calendar.visit", device: page.device)).tap do |made|
            made.dtstart = times.local(at)
            made.dtend = times.local(to || (at + (30 * 60)))
            made.sequence = row.version
            made.dtstamp = changed(row)
            made.status = gone ? "CANCELLED" : "CONFIRMED"
          end
        end

        # when something was written on it last
        def changed(row) =
          times.utc(visit.source.rows(:entries, row.id).last&.fetch(:at) || Store.now)
        def times = @times ||= Exchange::CalendarTimes.new(visit.source.clinic.time_zone)

        def event(key, summary)
          made = Icalendar::Event.new
          made.uid = "#{key}-#{visit.fitting.id}@#{visit.source.clinic.key}.handrail"
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

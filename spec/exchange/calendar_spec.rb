# frozen_string_literal: true

require "spec_helper"
require "icalendar"
require "prop_check"
require "time"

# Calendars out and in, held against the icalendar library (RFC 5545).
RSpec.describe "Calendars" do
  clinic =
    Handrail::Value.new(:name, :place, :key, :time_zone)[
      key: "3c1f",
      time_zone: "Pacific/Auckland",
      name: "Heron Quay; Orthotics, \"North\"",
      place: "Heron Quay"
    ]
  from = PropCheck::Generators
  now = Time.utc(2026, 11, 26, 1, 0)

  def visits(clinic, rows, now)
    text = Handrail::Exchange::ClinicCalendar.new(clinic, rows, now: now).to_ical
    Icalendar::Calendar.parse(text).first.events
  end

  it "begins in an hour that the zone's own clock leaves out, read in UTC" do
    # 26 September 2027, 02:30 UTC: at 02:00 of that day the clocks go forward in Auckland
    first = Time.utc(2027, 9, 26, 2, 30)
    row = {
      id: 1,
      planned_for: first,
      planned_to: first + 1800,
      version: 0,
      purpose: "recheck",
      title: "knee"
    }
    event = visits(clinic, [row], now).first
    expect(event.dtstart.to_time.getutc).to eq first
  end

  it "brings every visit back at its time, with its UID, its turn and whether it takes place" do
    one =
      from.tuple(
        from.choose(1..1_000_000),
        from.choose(0..50_000_000),
        from.choose(5..240),
        from.choose(0..99),
        from.boolean
      )
    PropCheck.forall(from.array(one)) do |drawn|
      rows =
        drawn
          .uniq(&:first)
          .map do |id, minute, lasting, version, gone|
            at = now + (minute * 60)
            {
              id: id,
              planned_for: at,
              planned_to: at + (lasting * 60),
              version: version,
              purpose: "recheck",
              gone: gone,
              title: "left knee unloader, inner side; 2 straps",
              given_name: "Wilma",
              family_name: "Quarrel"
            }
          end
      read =
        visits(clinic, rows, now).map do |event|
          [
            event.uid.to_s[/\d+/].to_i,
            event.dtstart.to_time.getutc,
            event.dtend.to_time.getutc,
            event.sequence.to_i,
            event.status.to_s == "CANCELLED",
            event.summary.to_s
          ]
        end
      told =
        rows.map do |row|
          [*row.values_at(:id, :planned_for, :planned_to, :version, :gone), "W. Q.: #{row[:title]}"]
        end
      expect(read).to match_array told
    end
  end

  it "reads closed days as the whole days that a calendar gives, whatever their order" do
    span = from.tuple(from.choose(0..3000), from.choose(1..20))
    PropCheck.forall(from.array(span, min: 1, max: 12)) do |drawn|
      calendar = Icalendar::Calendar.new
      drawn.each do |day, days|
        calendar.event do |event|
          event.dtstart = Icalendar::Values::Date.new(Date.new(2026, 1, 1) + day)
          event.dtend = Icalendar::Values::Date.new(Date.new(2026, 1, 1) + day + days)
        end
      end
      lines = Handrail::Exchange::ClosedDays.read(calendar.to_ical).lines
      read = Handrail::Store::Choices.days(lines.join("\n"))
      expected =
        drawn.flat_map { |day, days| (0...days).map { |n| Date.new(2026, 1, 1) + day + n } }
      expect(read).to eq expected.uniq.sort
    end
  end
end

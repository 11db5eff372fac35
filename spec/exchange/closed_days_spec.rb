# frozen_string_literal: true

require "spec_helper"
require "handrail"

# Other people's calendars of closed days (RFC 5545): what each means, or why it is not taken.
RSpec.describe Handrail::Exchange::ClosedDays do
  let(:today) { Date.new(2026, 11, 30) }

  # events - lines of one event each
  def calendar(*events, head: [])
    body =
      events.map do |lines|
        ["BEGIN:VEVENT", "UID:1", "DTSTAMP:20260101T000000Z", *lines, "END:VEVENT"]
      end
    ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:x", *head, *body, "END:VCALENDAR", ""].flatten.join(
      "\r\n"
    )
  end

  def lines(text) = described_class.read(text, today: today).lines

  it "takes an end, a duration, or neither" do
    day = "DTSTART;VALUE=DATE:20261224"
    expect(lines(calendar([day]))).to eq ["24 Dec 2026"]
    expect(lines(calendar([day, "DTEND;VALUE=DATE:20261227"]))).to eq ["24 Dec 2026 to 26 Dec 2026"]
    expect(lines(calendar([day, "DURATION:P3D"]))).to eq ["24 Dec 2026 to 26 Dec 2026"]
    expect(lines(calendar([day, "DURATION:P1W"]))).to eq ["24 Dec 2026 to 30 Dec 2026"]
  end

  it "takes days beside the rule, and leaves out those that are taken out of it" do
    rule = %w[DTSTART;VALUE=DATE:20261225 RRULE:FREQ=YEARLY;COUNT=3]
    expect(lines(calendar([*rule, "EXDATE;VALUE=DATE:20271225"]))).to eq [
         "25 Dec 2026",
         "25 Dec 2028"
       ]
    beside = %w[DTSTART;VALUE=DATE:20261225 RDATE;VALUE=DATE:20261231,20270106]
    expect(lines(calendar(beside))).to eq ["25 Dec 2026", "31 Dec 2026", "6 Jan 2027"]
  end

  it "closes nothing by what was cancelled, in any case of letters" do
    %w[CANCELLED cancelled].each do |status|
      text =
        calendar(
          ["DTSTART;VALUE=DATE:20261224", "STATUS:#{status}"],
          ["DTSTART;VALUE=DATE:20261225"]
        )
      expect(lines(text)).to eq ["25 Dec 2026"]
    end
    taken_back = calendar(["DTSTART;VALUE=DATE:20261224"], head: ["METHOD:CANCEL"])
    expect { lines(taken_back) }.to raise_error(described_class::Unreadable, /takes days back/)
  end

  it "reads names of properties in small letters, Latin-1, and lines that are folded within a letter" do
    event = ["DTSTART;VALUE=DATE:20261224", "SUMMARY:Heiligabend, geschloßen"]
    expect(lines(calendar(event).gsub(/^(BEGIN|END|DTSTART|VERSION|SUMMARY)/, &:downcase))).to eq [
         "24 Dec 2026"
       ]
    expect(lines(calendar(event).encode("ISO-8859-1").b)).to eq ["24 Dec 2026"]
    bytes = calendar(event).b
    at = bytes.index("\xC3".b) + 1
    expect(lines(bytes[0...at] + "\r\n ".b + bytes[at..])).to eq ["24 Dec 2026"]
  end

  it "reads the example of its page" do
    page = File.read(File.join(Handrail::ROOT, "docs", "formats", "calendars.md"))
    found = described_class.read(page[/```ics\n(.*?)```/m, 1], today: Date.new(2026, 11, 30)).lines
    expect(found).to eq page.scan(/`(\d+ Dec \d{4} to \d+ Dec \d{4})`/).flatten
  end

  it "shortens nothing: what lasts years is said" do
    long = calendar(%w[DTSTART;VALUE=DATE:20260101 DTEND;VALUE=DATE:20290101 SUMMARY:Works])
    expect { lines(long) }.to raise_error(described_class::Unreadable, /Works.*more than 400 days/)
  end
end

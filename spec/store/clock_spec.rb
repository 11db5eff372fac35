# frozen_string_literal: true

require "store_helper"

# Days and hours that the clocks skip or repeat (IANA time zone data, through tzinfo).
RSpec.describe Handrail::Store::Clinic, :rolled_back do
  def clinic(zone) = described_class.new(name: "Elsewhere", place: "x", phone: "1", time_zone: zone)

  it "begins a day whose midnight the clocks skip when they jump" do
    # Egypt, 28 April 2023: 00:00 becomes 01:00, two hours ahead of UTC becomes three
    expect(clinic("Africa/Cairo").midnight(Date.new(2023, 4, 28))).to eq Time.utc(2023, 4, 27, 22)
    expect(clinic("Africa/Cairo").midnight(Date.new(2023, 4, 29))).to eq Time.utc(2023, 4, 28, 21)
  end

  it "takes the first of two equal hours, and refuses one that is skipped" do
    london = clinic("Europe/London")
    expect(london.moment(Date.new(2026, 10, 25), 1, 30)).to eq Time.utc(2026, 10, 25, 0, 30)
    expect { london.moment(Date.new(2026, 3, 29), 1, 30) }.to raise_error(TZInfo::PeriodNotFound)
  end

  it "tells its own day from the server's" do
    expect(clinic("Pacific/Auckland").today(Time.utc(2026, 11, 24, 12))).to eq Date.new(
         2026,
         11,
         25
       )
    expect(clinic("Pacific/Honolulu").today(Time.utc(2026, 11, 25, 8))).to eq Date.new(2026, 11, 24)
  end
end

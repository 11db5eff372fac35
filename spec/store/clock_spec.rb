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

# A year of random bookings in six zones, each held against PostgreSQL's own reading of the same zone data, which
# knows nothing of ours: what is booked for a time of day is of that time of day, on the bench, in the list of the
# day and in the calendar; an hour that the clocks skip is refused, of one that comes twice it is the first.
RSpec.describe "Bookings over a year", :rolled_back do
  zones = %w[
    Europe/London
    America/New_York
    Asia/Kolkata
    Australia/Lord_Howe
    Africa/Cairo
    America/St_Johns
  ]
  let(:db) { Handrail::Store.db }
  let(:year) { Date.new(2027, 1, 2)...Date.new(2027, 12, 30) }

  def read_by_postgres(zone, local)
    db.fetch(<<~SQL, local: local.strftime("%F %T"), zone: zone).first.transform_values(&:to_a)
      WITH asked AS (SELECT :local::timestamp AS local, :local::timestamp AT TIME ZONE :zone AS moment)
      SELECT array_agg(DISTINCT extract(epoch FROM candidate)::bigint
        ORDER BY extract(epoch FROM candidate)::bigint) AS moments
      FROM asked, unnest(ARRAY[moment, moment - interval '1 hour', moment - interval '30 minutes',
        moment + interval '1 hour', moment + interval '30 minutes']) AS candidate
      WHERE candidate AT TIME ZONE :zone = local
    SQL
  end

  # days on which the clocks change and the days beside them, and any others
  def days(clinic, dice)
    changes =
      clinic
        .zone
        .transitions_up_to(Time.utc(2028), Time.utc(2027))
        .map { |one| one.at.to_time.to_date }
    near = changes.flat_map { |day| [day - 1, day, day + 1] }.select { |day| year.cover?(day) }
    (near * 5) + Array.new(25) { year.first + dice.rand(360) }
  end

  zones.each do |zone|
    it "are at the time of day that was said, in #{zone}" do
      dice = Random.new(RSpec.configuration.seed)
      clinic = make_clinic.tap { |one| one.update(time_zone: zone) }
      account = make_account(clinic)
      visit = make_visit(clinic, account)
      Handrail::Store.at(Time.utc(2027, 1, 1, 12)) do
        days(clinic, dice).each do |day|
          hour, minute =
            [
              [dice.rand(0..23), dice.rand(0..3) * 15],
              [dice.rand(0..3), dice.rand(0..3) * 15]
            ].sample(random: dice)
          local = Time.utc(day.year, day.month, day.day, hour, minute)
          moments = read_by_postgres(zone, local).fetch(:moments)
          book = -> do
            run(
              visit,
              account,
              :BookVisit,
              day: day.iso8601,
              time: local.strftime("%H:%M"),
              anyway: "yes"
            )
          end
          if moments.empty?
            expect { book.call }.to raise_error(Handrail::Store::Unacceptable, /clocks go forward/)
            next
          end
          book.call
          expect([local, visit.refresh.planned_for.to_i]).to eq [local, moments.first]
          expect(clinic.local(visit.planned_for).strftime("%F %H:%M")).to eq local.strftime(
               "%F %H:%M"
             )
        end
      end
    end
  end
end

# frozen_string_literal: true

require "store_helper"
require "open3"
require "tmpdir"

# Our files read by programs of others, and theirs by ours: npm's csv-spectrum (hard cases of CSV), ical.js and
# node-ical (RFC 5545), which bin/test installs.
RSpec.describe "Programs of others" do
  modules = File.join(Handrail::ROOT, "node_modules")

  def node(*arguments)
    output, status =
      Open3.capture2e(
        "node",
        File.join(Handrail::ROOT, "bin", "support", "calendar_check.mjs"),
        *arguments.map(&:to_s)
      )
    raise output unless status.success?

    JSON.parse(output)
  end

  csvs = Dir[File.join(modules, "csv-spectrum", "csvs", "*.csv")]
  it("has the files of csv-spectrum") { expect(csvs.size).to be >= 11 }

  # a quotation mark in a field without any around it is not CSV (RFC 4180, 2.5): what is meant is not ours to say
  it "refuses csv-spectrum's location_coordinates.csv at its line" do
    path = csvs.find { |one| one.end_with?("location_coordinates.csv") }
    columns = ["Contact Phone Number", "Location Coordinates", "Cities", "Counties"]
    expect {
      Handrail::Exchange::CSVTable.new(path, columns, foreign: true).listed(100)
    }.to raise_error(Handrail::Exchange::CSVTable::Faulty, /line 2: is not well-formed CSV/)
  end

  csvs
    .reject { |path| path.end_with?("location_coordinates.csv") }
    .each do |path|
      it "reads csv-spectrum's #{File.basename(path)} as its JSON says" do
        told = JSON.parse(File.read(path.sub("/csvs/", "/json/").sub(/csv\z/, "json")))
        columns = told.first.keys
        found =
          Handrail::Exchange::CSVTable.new(path, columns, foreign: true).listed(100).map(&:last)
        # ends of lines within a field are one kind of end here
        plain = ->(text) { text.gsub("\r\n", "\n").strip }
        expect(found).to eq(
          told.map { |row| row.transform_values(&plain).reject { |_, text| text.empty? } }
        )
      end
    end

  describe "calendars" do
    named = Handrail::Value.new(:name, :place, :key, :time_zone)

    def rows(zone, seed)
      random = Random.new(seed)
      at = TZInfo::Timezone.get(zone).local_to_utc(Time.utc(2026, 1, 2, 9), true)
      (1..40).map do |id|
        from = at + (random.rand(0..(2 * 365 * 24 * 4)) * 900)
        {
          id: id,
          version: random.rand(90),
          purpose: "recheck",
          planned_for: from,
          planned_to: from + (60 * random.rand(5..240)),
          changed_at: from - 86_400,
          gone: random.rand(5).zero?,
          title: "left knee unloader, inner side; \"long\" straps\\two, für Größe M",
          given_name: "Wilma",
          family_name: "Quarrel"
        }
      end
    end

    %w[
      Europe/London
      Pacific/Auckland
      America/New_York
      Asia/Kolkata
      Australia/Lord_Howe
      UTC
    ].each do |zone|
      it "say the same times in #{zone} to ical.js and node-ical, over two years and every change of clocks" do
        clinic = named[name: "Heron Quay", place: "Heron Quay", key: "k", time_zone: zone]
        all = rows(zone, 7)
        path = File.join(Dir.mktmpdir, "visits.ics")
        File.write(
          path,
          Handrail::Exchange::ClinicCalendar.new(clinic, all, now: Time.utc(2026, 1, 1)).to_ical
        )
        told =
          all.map do |row|
            {
              "uid" => "visit-#{row[:id]}@k.handrail",
              "start" => row[:planned_for].getutc.iso8601,
              "end" => row[:planned_to].getutc.iso8601,
              "status" => row[:gone] ? "CANCELLED" : "CONFIRMED",
              "sequence" => row[:version],
              "summary" => "W. Q.: #{row[:title]}"
            }
          end
        read = node("read", path)
        expect(read["icalJs"]).to match_array told
        expect(read["nodeIcal"]).to match_array told
      end
    end

    it "say which of the two hours is meant, where the clocks go back" do
      clinic = named[name: "Heron Quay", place: "Heron Quay", key: "k", time_zone: "Europe/London"]
      twice = [Time.utc(2026, 10, 25, 0, 30), Time.utc(2026, 10, 25, 1, 30)]
      all =
        rows("Europe/London", 7)
          .first(2)
          .zip(twice)
          .map { |row, at| row.merge(planned_for: at, planned_to: at + 900) }
      path = File.join(Dir.mktmpdir, "visits.ics")
      File.write(
        path,
        Handrail::Exchange::ClinicCalendar.new(clinic, all, now: Time.utc(2026, 1, 1)).to_ical
      )
      read = node("read", path)
      %w[icalJs nodeIcal].each do |by|
        expect(read[by].map { |one| one["start"] }).to match_array twice.map(&:iso8601)
      end
    end

    it "of closed days that ical.js made are the days that it says they are" do
      seed = Time.now.to_i / 60
      made = node("make", seed, 60)
      expect(made.size).to eq 60
      wrong =
        made.reject do |one|
          lines =
            Handrail::Exchange::ClosedDays.read(one["text"], today: Date.new(2026, 6, 1)).lines
          lines.flat_map { |line| days_of(line) } == one["days"].uniq.sort
        end
      expect(wrong.map { |one| one["text"] }).to eq([]), "seed #{seed}: #{wrong.first}"
    end

    def days_of(line)
      from, to = line.split(" to ").map { |text| Handrail::Quantity::Day.read(text) }
      (from..(to || from)).map(&:iso8601)
    end
  end
end

# frozen_string_literal: true

require "store_helper"
require "tmpdir"

# Files that nobody here wrote, at every door: each is read right, asked about, or refused with its mend; none is read
# as something else. The files are in spec/others/*.yml, each the smallest that shows what it shows; packages in
# packages_spec.rb, bundles in bundle_in_spec.rb too.
RSpec.describe "Files of others", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { make_patient(clinic, fitter, record_number: "C 77") }

  # the bytes of a file as another program would have written it
  def file(one)
    text = one["ends"] == "crlf" ? one["text"].gsub("\n", "\r\n") : one["text"]
    bytes = one["as"] && one["as"] != "bytes" ? text.encode(one["as"]) : text
    File.join(Dir.mktmpdir, "file").tap { |path| File.binwrite(path, bytes.b) }
  end

  # [["right", ...] or ["asked", names] or ["refused", words]] of a table: rows that are listed, meant, and looked at
  def table(one, format)
    listed =
      (
        if format.respond_to?(:listed)
          format.listed(file(one), name: "f")
        else
          format.rows(file(one), name: "f")
        end
      )
    meant = Handrail::Exchange::Interpretation.new(listed, **format::MEANT)
    return "asked", meant.questions.map(&:name) if meant.questions.any?

    yield meant.rows
  rescue Handrail::Exchange::CSVTable::Faulty => e
    ["refused", e.message]
  end

  def faulty(faults) = ["refused", faults.map { |line, words| "line #{line}: #{words}" }.join("\n")]
  def mm(number) = number.to_d.to_s("F").delete_suffix(".0")

  def at_readings(one)
    table(one, Handrail::Exchange::EarlierFile) do |rows|
      found, faults = Handrail::Store::Earlier.read(clinic, rows)
      next faulty(faults) if faults.any?

      [
        "right",
        found.map { |row| [row[:read_on].iso8601, row[:site], row[:side], mm(row[:value_mm])] }
      ]
    end
  end

  def at_patients(one)
    table(one, Handrail::Exchange::PatientsFile) do |rows|
      looked = Handrail::Store::Arrivals.look(clinic, fitter, rows)
      next faulty(looked.faults) if looked.faults.any?

      born = ->(text) { Handrail::Quantity::Day.read(text).iso8601 }
      [
        "right",
        looked.shown.map { |_, row| [row["record_number"], row["name"], born[row["born"]]] }
      ]
    end
  end

  def at_charts(one)
    table(one, Handrail::Exchange::ChartFile) do |rows|
      scan = Handrail::Exchange::ChartFile.scan_rows(rows, name: "f")
      next "refused", scan.faults.join("\n") if scan.faults.any?

      [
        "right",
        scan.rows.map { |row| [row.size, row.site, *[row.min, row.max].map { |edge| mm(edge) }] }
      ]
    end
  end

  def at_calendars(one)
    [
      "right",
      Handrail::Exchange::ClosedDays.read(
        File.binread(file(one)),
        today: Date.new(2026, 11, 30)
      ).lines
    ]
  rescue Handrail::Exchange::ClosedDays::Unreadable => e
    ["refused", e.message]
  end

  def at_bundles(one)
    found = Handrail::Exchange::FhirIn.read(one["text"], today: Date.new(2026, 11, 30))
    return "refused", found.faults.map(&:last).join("\n") if found.faults.any?

    readings =
      found.readings.map do |_, row|
        row.values_at("record_number", "date", "site", "side", "value", "unit")
      end
    [
      "right",
      [found.patients.map { |_, form| form["record_number"] }, readings, found.left.values.sum]
    ]
  rescue Handrail::Exchange::FhirIn::Unreadable => e
    ["refused", e.message]
  end

  all =
    Dir[File.join(__dir__, "..", "others", "*.yml")].to_h do |path|
      [File.basename(path, ".yml"), YAML.safe_load_file(path)]
    end

  it "has them counted in its page, more than 250" do
    page = File.read(File.join(Handrail::ROOT, "docs", "formats", "others.md"))
    told =
      page
        .scan(/^\| ([\w ]+) \(.*?\) \| (\d+) \| (\d+) \| (\d+) \| (\d+) \|$/)
        .to_h { |door, *counts| [door, counts.map(&:to_i)] }
    counted =
      all.transform_values do |files|
        kinds = files.map { |one| %w[right asked refused].find { |name| one.key?(name) } }.tally
        [files.size, *kinds.values_at("right", "asked", "refused").map(&:to_i)]
      end
    expect(told).to eq(counted)
    expect(counted.values.sum(&:first)).to be > 250
  end

  all.each do |door, files|
    describe door do
      files.each do |one|
        kind = %w[right asked refused].find { |name| one.key?(name) }
        it "#{kind}: #{one["what"]}" do
          said, found = send(:"at_#{door}", one)
          expect([said, found]).to match [
                  kind,
                  kind == "refused" ? Regexp.new(one[kind]) : one[kind]
                ]
        end
      end
    end
  end
end

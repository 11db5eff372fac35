# frozen_string_literal: true

require "spec_helper"

RSpec.describe Handrail::Sizing::EmptyChart do
  families = Handrail::Families::Registry.all.values

  it "asks of every family that is sized by a chart for its own sites, each as it is read, once a size" do
    families.each do |family|
      rows = described_class.rows(family, family.config({}, {}), unit: "cm")
      sites = rows.map { |row| row["site"] }.uniq
      expect(sites - family.needs.map(&:site)).to be_empty, family.key
      expect(rows.map { |row| row.values_at("size", "site", "posture") }.uniq.size).to eq rows.size
      next if family.size_rule.by == "sheet"

      expect(sites).not_to be_empty, family.key
    end
  end

  it "makes a chart that reads as it stands once the bands are filled in" do
    unloader = family
    rows = described_class.rows(unloader, unloader.config({}, {}), unit: "cm")
    filled =
      rows.map do |row|
        from = 30 + (5 * described_class::SIZES.index(row["size"]))
        row.merge("min" => from.to_s, "max" => (from + 4.9).to_s)
      end
    file = File.join(Dir.mktmpdir, "chart.csv")
    File.write(file, Handrail::Exchange::ChartFile.write_texts(filled))
    expect(Handrail::Exchange::ChartFile.read(file).names).to eq %w[S M L]
  end
end

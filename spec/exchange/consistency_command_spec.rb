# frozen_string_literal: true

require "spec_helper"
require "csv"
require "json"
require "stringio"
require "tempfile"

# The contract of `bin/handrail consistency`.
RSpec.describe Handrail::Exchange::ConsistencyCommand do
  let(:head) { "person,site,posture,tension,value,unit\n" }
  let(:leg) { %w[A,knee_mid_patella,,,36,cm A,calf_widest,,,63,cm A,ankle_narrowest,,,22,cm] }

  def run(text, *more)
    Tempfile.create(%w[readings .csv]) do |file|
      file.write(text)
      file.flush
      out = StringIO.new
      err = StringIO.new
      status = described_class.run(["--readings", file.path, *more], out: out, err: err)
      [status, out.string, err.string]
    end
  end

  def rows(lines) =
    CSV.parse(run("#{head}#{lines.map { |line| "#{line}\n" }.join}")[1], headers: true)

  it "prints one row a person and site by first appearance, one yes a person, and what it may have been" do
    found = rows(["B,instep,,,24,cm", *leg, "B,instep,,,24.4,cm", "A,heel,,,30,cm"])
    expect(found.headers).to eq %w[person site value_mm expected_mm low_mm high_mm asked suggestion]
    expect(found.map { |row| row.values_at("person", "site") }).to eq [
         %w[B instep],
         %w[A knee_mid_patella],
         %w[A calf_widest],
         %w[A ankle_narrowest],
         %w[A heel]
       ]
    expect(found.map { |row| row["asked"] }).to eq %w[no no yes no no]
    expect(found[2]["suggestion"]).to eq "36 cm"
    expect(found[0].values_at("value_mm", "expected_mm", "low_mm", "high_mm")).to eq [
         "242.0",
         nil,
         nil,
         nil
       ]
    expect(found[2].values_at("expected_mm", "low_mm", "high_mm")).to all(match(/\A\d+\.\d\z/))
  end

  it "says which site was meant, and which unit" do
    expect(
      rows(
        %w[A,calf_widest,,,22,cm A,ankle_narrowest,,,36.5,cm A,knee_mid_patella,,,37,cm]
      ).map { |r| r["suggestion"] }
    ).to include(/\Asite (ankle_narrowest|calf_widest)\z/)
    expect(
      rows(%w[A,waist_natural,,,85,in A,hip_fullest,,,97,cm A,chest_fullest,,,95,cm])[0][
        "suggestion"
      ]
    ).to eq "85 cm"
  end

  it "leaves expected, low and high empty with fewer than two understood sites" do
    found = rows(%w[A,calf_widest,,,36,cm A,heel,,,30,cm])
    expect(found.map { |row| row["expected_mm"] }).to eq [nil, nil]
  end

  it "folds repeats: one, the mean of two, the median of three" do
    found = rows(%w[A,calf_widest,,,36,cm A,ankle_narrowest,,,22,cm A,calf_widest,,,37,cm])
    expect(found[0]["value_mm"]).to eq "365.0"
    found =
      rows(
        %w[
          A,calf_widest,,,36,cm
          A,ankle_narrowest,,,22,cm
          A,calf_widest,,,37,cm
          A,calf_widest,,,36.2,cm
        ]
      )
    expect(found[0]["value_mm"]).to eq "362.0"
  end

  it "prints JSON of the same rows" do
    status, out, = run("#{head}#{leg.join("\n")}\n", "--format", "json")
    expect([status, JSON.parse(out)[1]]).to match [
            0,
            include("person" => "A", "value_mm" => 630.0, "asked" => "yes", "suggestion" => "36 cm")
          ]
    expect(JSON.parse(out)[0]).to include("asked" => "no", "suggestion" => "")
    expect(run(head)[0]).to eq 2
  end

  {
    "a value that can not be read" => ["A,calf_widest,,,tight,cm", /line 2/],
    "no person" => [",calf_widest,,,36,cm", /line 2.*no person/],
    "no site" => ["A,,,,36,cm", /line 2.*no site/]
  }.each do |what, (line, words)|
    it "prints nothing of a file with #{what}, and says file, line and mend" do
      status, out, err = run("#{head}#{line}\n")
      expect([status, out]).to eq [2, ""]
      expect(err).to match(words)
    end
  end

  it "says how it is called" do
    err = StringIO.new
    expect(described_class.run([], err: err)).to eq 2
    expect(err.string).to include("handrail consistency --readings FILE.csv")
  end
end

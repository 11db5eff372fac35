# frozen_string_literal: true

require "spec_helper"

# Bar codes of a piece's label, as a reader types them. Source: GS1 General Specifications (from memory): the check
# digit of the example GTIN-13 629104150021, which is 3, and GTINs of GS1's own prefix 950.
RSpec.describe Handrail::Labels::ElementString do
  let(:today) { Date.new(2026, 11, 30) }

  def read(text) = described_class.read(text, today: today)

  it "has GS1's own check digits" do
    expect(described_class.check_digit("629104150021")).to eq "3"
    expect(described_class.check_digit("0950600013435")).to eq "2"
  end

  it "takes all five apart, in brackets and as they are scanned, with and without the reader's prefix" do
    want = {
      gtin: "09506000134352",
      lot: "A12",
      made_on: Date.new(2025, 12, 1),
      use_by: Date.new(2027, 11, 30),
      serial: "77/B"
    }
    gs = "\u{1D}"
    [
      "(01)09506000134352(11)251201(17)271130(10)A12(21)77/B",
      "]C1010950600013435211251201" \
        "17271130" \
        "10A12#{gs}2177/B",
      "010950600013435211251201" \
        "17271130" \
        "10A12#{gs}2177/B",
      "]d20109506000134352" \
        "2177/B\u{241D}" \
        "11251201" \
        "17271130" \
        "10A12"
    ].each { |text| expect(read(text).to_h).to eq want }
  end

  it "is no element string where somebody types a number" do
    ["WH-20501", "20501", "0109", "K 100", "", nil, "2177"].each do |text|
      expect(read(text)).to be_nil
    end
  end

  it "says what can not be right" do
    {
      "(01)09506000134353(21)7" => /last figure/,
      "(01)0950600013435(21)7" => /\(01\).*not whole/,
      "(01)09506000134352(17)271340" => /no day/,
      "(01)09506000134352(99)x" => /\(99\).*not known/,
      "(01)09506000134352(21)7(21)8" => /\(21\) stands twice/,
      "(01)09506000134352(21)" => /\(21\).*not whole/,
      "(01)09506000134352(21)\xFF" => /\(21\).*not whole/,
      "(01)09506000134352 and more" => /not whole/,
      "010950600013435298XYZ" => /no identifier/
    }.each { |text, why| expect { read(text) }.to raise_error(described_class::Unsound, why) }
  end

  it "never guesses where a lot ends, when the reader sends no separators" do
    expect {
      read(
        "0109506000134352" \
          "10A12345" \
          "2177123"
      )
    }.to raise_error(described_class::Unsound, /separators/)
    expect(
      read(
        "0109506000134352" \
          "21K100"
      ).serial
    ).to eq "K100"
  end

  it "takes two figures of a year within fifty years, and no day of the month as the last" do
    expect(read("(01)09506000134352(17)280200").use_by).to eq Date.new(2028, 2, 29)
    expect(read("(01)09506000134352(17)760101").use_by).to eq Date.new(2076, 1, 1)
    expect(read("(01)09506000134352(11)770101").made_on).to eq Date.new(1977, 1, 1)
  end
end

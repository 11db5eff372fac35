# frozen_string_literal: true

require "web_helper"

# What core finds as figures, in a fitter's words.
RSpec.describe Handrail::Wording do
  def repeats(mm)
    Handrail::Measuring::Repeats.new(
      [Handrail::Quantity::Length.mm(mm)],
      resolution: Handrail::Quantity::Length.mm(1)
    )
  end

  describe "a change of girth" do
    def said(before, now, tape: "cm 1 mm")
      change = Handrail::Followup::ChangeOfGirth.new("calf_widest", repeats(before), repeats(now))
      described_class.change_of_girth(change, Handrail::Quantity::Tape[tape])
    end

    it "is the same, within the error, or more than it, in the unit of the tape" do
      expect(said(350, 350)).to eq "The same as before."
      expect(said(350, 355)).to eq "5 mm more: no more than measuring error (10 mm)."
      expect(said(350, 338)).to eq "12 mm less than before: more than measuring error (10 mm)."
      expect(said(350, 338, tape: "in 1/8")).to start_with "1/2 in less than before"
    end
  end

  it "says of two sides whether they read the same, within the error, or by more than is usual" do
    said = ->(here, there, kind: :sides) do
      pairing =
        Handrail::Measuring::Pairing.new(
          repeats(here),
          repeats(there),
          kind: kind,
          names: %w[left right]
        )
      described_class.pairing(pairing.finding)
    end
    expect(said[350, 350]).to eq "left and right read the same."
    expect(said[352, 350]).to eq "left reads 2 mm more than right: no more than measuring error."
    expect(said[340, 390]).to eq(
      "left reads 50 mm less than right: more than is usual between two sides. Look why before going on."
    )
    expect(said[340, 390, kind: :postures]).to eq "left reads 50 mm less than right."
  end

  it "says what a centimetre beside the level would make of a reading" do
    finding = Handrail::Measuring::LevelDoubt::Finding[way: "higher", mm: 8.2, size: "L"]
    expect(described_class.level_doubt(finding)).to eq(
      "1 cm higher on this leg reads 8 mm more, and that would be L. Find the mark again before you read."
    )
    lower = finding.with(way: "lower", mm: -7.6, size: nil)
    expect(described_class.level_doubt(lower)).to eq "1 cm lower on this leg reads 8 mm less."
  end

  it "says what the sizes beside the chosen one would mean, and where on a part with several girths" do
    found = Handrail::Sizing::Neighbours::Finding[code: :ends, size: "S", edge: "35.4 cm", off: 16r]
    expect(
      described_class.neighbour(found)
    ).to eq "S ends at 35.4 cm: 16 mm too small, it would bind."
    there = found.with(code: :begins, size: "L", edge: "37.6 cm", off: 6.25r, site: "calf")
    expect(described_class.neighbour(there)).to eq(
      "L begins at 37.6 cm: 6.3 mm too large at the calf, it would sit loose and may slip."
    )
    expect(
      described_class.neighbour(found.with(code: :holds))
    ).to eq "S would hold these readings too."
  end

  it "says in kind words how a fitter repeats a site" do
    said = ->(count, difference) do
      pairs = Array.new(count) { [350 - (difference / 2.0), 350 + (difference / 2.0)] }
      described_class.repeatability(Handrail::Measuring::Repeatability.of(pairs))
    end
    expect(said[1, 2]).to start_with "1 pair so far; from 10 on"
    expect(said[12, 4.9]).to include "practised hand does"
    expect(said[12, 7.3]).to include "Near what a practised hand reaches"
    expect(said[12, 7.6]).to include "together with a colleague"
  end
end

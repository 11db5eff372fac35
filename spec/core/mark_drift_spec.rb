# frozen_string_literal: true

require "spec_helper"

# Common practice, no source: marks that move past one another show how far a limb has emptied, until
# the closure is used up. That a word is said from three quarters on is ours.
RSpec.describe Handrail::Fitting::MarkDrift do
  def drift(past, reach = 40r) = described_class[past: past.to_r, reach: reach, at: nil, field: nil]

  it "is within, near from three quarters of the closure on, and out at its end" do
    expect([0, 29.9, 30, 39.9, 40, 55].map { |past| drift(past).state }).to eq %i[
         within
         within
         near
         near
         out
         out
       ]
  end

  it "says what is left, never less than nothing" do
    expect([drift(12).left, drift(40).left, drift(55).left]).to eq [28, 0, 0]
  end

  it "refuses a family whose marks name settings that are no lengths" do
    wrap = Handrail::Families::Registry.fetch("compression_wrap")
    raw = Marshal.load(Marshal.dump(wrap.to_h))
    raw["marks"]["drift"]["reach"] = "straps"
    broken = Handrail::Families::Family.new(raw)
    expect do
      Handrail::Families::References.check(
        broken,
        "wrap.yml",
        Handrail::Anatomy::Vocabulary.default
      )
    end.to raise_error(Handrail::Knowledge::Faulty, /marks.drift: no length is called straps/)
  end
end

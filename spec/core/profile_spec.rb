# frozen_string_literal: true

RSpec.describe Handrail::Anatomy::Profile do
  let(:reference) { Handrail::Anatomy::Figure.fetch("leg").reference }
  let(:leg) { described_class.new(reference) }

  it "goes through its points and never swings beyond them" do
    reference.each { |level, girth| expect(leg.girth(level)).to be_within(1e-9).of(girth) }
    reference.each_cons(2) do |(low, a), (high, b)|
      (low..high).each do |level|
        expect(leg.girth(level)).to be_between(*[a, b].minmax).or be_within(1e-9).of(a)
      end
    end
  end

  it "gives the girths at many levels as it gives each, on its points and beyond its ends too" do
    levels = [-20.0, *(0..900).step(2.5), *leg.levels, 2000.0].sort
    expect(leg.along(levels)).to eq(levels.map { |level| leg.girth(level) })
  end

  it "has the slope that its girths have" do
    (100..820).step(7) do |level|
      numeric = (leg.girth(level + 1e-4) - leg.girth(level - 1e-4)) / 2e-4
      expect(leg.slope(level)).to be_within(1e-3).of(numeric)
    end
  end

  it "is exact on a straight cone" do
    cone = described_class.new([[0, 200], [100, 250], [400, 400]])
    expect([cone.girth(170), cone.slope(170), cone.error(170, -10)]).to match [
            be_within(1e-9).of(285),
            be_within(1e-9).of(0.5),
            be_within(1e-9).of(-5)
          ]
  end

  it "bends the reference to the wearer's girths" do
    fitted = described_class.fitted([[285, 420], [585, 600]], reference: reference)
    expect(fitted.girth(285)).to be_within(1e-6).of(420)
    expect(fitted.girth(585)).to be_within(1e-6).of(600)
    expect(fitted.girth(110) / leg.girth(110)).to be_within(1e-6).of(420 / leg.girth(285))
  end

  it "finds the widest level" do
    expect(leg.widest(160, 435)).to be_within(5).of(320)
  end
end

# frozen_string_literal: true

require "prop_check"

RSpec.describe Handrail::Fitting::LeastPull do
  def pull(was: 44, girth_then: 372.0, girth_now: 372.0, target: 44, within: 3, stretch: 0.3)
    described_class[
      number: 2,
      was: was,
      girth_then: girth_then,
      girth_now: girth_now,
      target: target,
      within: within,
      stretch: stretch
    ]
  end

  it "presses as it did on the limb as it was" do
    expect([pull.pressure, pull.state]).to eq [44.0, :within]
  end

  # by hand: 2 % thinner at a stretch of 30 %: 44 x (0.3 - 0.02 x 1.3) / 0.3 / 0.98 = 41.0068
  it "presses less on a thinner limb, by the stretch that is left and Laplace" do
    thinner = pull(girth_now: 372 * 0.98)
    expect(thinner.pressure).to be_within(1e-9).of(44 * (0.3 - (0.02 * 1.3)) / 0.3 / 0.98)
    expect(thinner.pressure).to be_within(0.0001).of(41.0068)
    expect([thinner.state, pull(girth_now: 372 * 0.97).state]).to eq %i[within below]
  end

  it "is too much on a fuller one, even at the least pull" do
    expect(pull(girth_now: 372 * 1.03).state).to eq :above
  end

  it "is nothing once the stretch is used up" do
    expect(pull(girth_now: 372 * 0.7).pressure).to eq 0.0
  end

  # the band's edges belong to it, as they do to the fewest changes
  it "is within its band at the very edge" do
    edge = pull(was: 41, target: 44)
    expect([edge.state, pull(was: 40.9, target: 44).state]).to eq %i[within below]
  end

  it "never presses more the thinner the limb is" do
    PropCheck.forall(
      PropCheck::Generators.choose(700..1200),
      PropCheck::Generators.choose(1..100)
    ) do |share, less|
      fuller = pull(girth_now: 372.0 * share / 1000)
      thinner = pull(girth_now: 372.0 * (share - less) / 1000)
      expect(thinner.pressure).to be <= fuller.pressure + 1e-9
    end
  end
end

# frozen_string_literal: true

require "spec_helper"
require "prop_check"

RSpec.describe Handrail::Fitting::StrapSeat do
  # a body of revolution by its radius at a height, as a finely read profile
  def profile(from, to, step = 1)
    levels = (from..to).step(step).to_a
    Handrail::Anatomy::Profile.new(levels.map { |z| [z, 2 * Math::PI * yield(z)] })
  end

  it "needs no friction on a cylinder" do
    seat = described_class.new(profile(0, 300) { 50.0 }, 120)
    expect([seat.held?, seat.friction, seat.lift]).to eq [true, 0.0, 0]
  end

  it "needs the tangent of the half angle on a cone that narrows toward the foot" do
    [2, 5, 12].each do |degrees|
      tangent = Math.tan(degrees * Math::PI / 180)
      seat = described_class.new(profile(100, 400) { |z| z * tangent }, 250)
      expect([seat.held?, seat.lift]).to eq [false, nil]
      expect(seat.friction).to be_within(1e-9).of(tangent)
    end
  end

  it "is held on a cone that widens toward the foot" do
    seat = described_class.new(profile(0, 300) { |z| 80 - (z * 0.1) }, 150)
    expect([seat.held?, seat.friction]).to eq [true, 0.0]
  end

  # r = sqrt(R^2 - z^2): tan(a) = z / r below the middle, and above it the ball holds
  it "needs on a ball what its slope is, and from its middle on nothing" do
    ball = profile(-90, 90) { |z| Math.sqrt((100**2) - (z**2)) }
    [-60, -30, -10].each do |z|
      seat = described_class.new(ball, z)
      expect(seat.friction).to be_within(2e-3).of(-z / Math.sqrt((100**2) - (z**2)))
      expect([seat.lift, seat.below_widest]).to match [be_within(1).of(-z), be_within(1).of(-z)]
    end
    expect(described_class.new(ball, 20).held?).to be true
  end

  it "names a height at which it is held, wherever the calf is widest, for any leg" do
    girths = PropCheck::Generators.choose(300..450)
    PropCheck.forall(girths, PropCheck::Generators.choose(20..90)) do |widest, drop|
      leg =
        Handrail::Anatomy::Profile.new([[100, widest - drop], [300, widest], [400, widest - 20]])
      seat = described_class.new(leg, 260)
      expect(seat.held?).to be false
      expect(described_class.new(leg, 260 + seat.lift).held?).to be true
      expect(described_class.new(leg, 260 + seat.highest).held?).to be true
      expect(seat.below_widest).to be_within(1).of(40)
    end
  end

  describe Handrail::Compression::Laplace do
    # Thomas S, EWMA Journal 3(1), 2003, 21-23: the constant is published as 4620, derived as 2 pi g
    # / 133.322 in these units
    it "has the published constant" do
      expect(described_class::CONSTANT).to be_within(0.05).of(4621.7)
      expect(described_class.pressure(0.5, girth: 25, width: 10, layers: 2)).to be_within(0.01).of(
        4620 * 0.5 * 2 / 250.0
      )
    end

    it "gives the tension back, presses in proportion to layers, and less on a larger limb" do
      pressure = described_class.pressure(0.4, girth: 24, width: 10, layers: 2)
      expect(described_class.tension(pressure, girth: 24, width: 10, layers: 2)).to be_within(
        1e-12
      ).of(0.4)
      expect(described_class.one_more(pressure, 2)).to be_within(1e-9).of(pressure * 1.5)
      expect(described_class.at_girth(pressure, 24, 23)).to be_within(1e-9).of(pressure * 24 / 23.0)
    end
  end
end

# frozen_string_literal: true

require "spec_helper"
require "prop_check"

RSpec.describe Handrail::Followup::LimbVolume do
  # girths of a cone of revolution with this radius at a level, cut into slices
  def sliced(length, slices)
    described_class.new(
      (0..slices).to_h do |i|
        level = Rational(length * i, slices)
        [level, 2 * Math::PI.to_r * yield(level)]
      end
    )
  end

  it "is exact for a cylinder and for a full cone (V = pi r^2 h, and a third of it)" do
    expect(sliced(300, 1) { 50 }.ml).to be_within(1e-9).of(Math::PI * 50 * 50 * 300 / 1000)
    expect(sliced(300, 1) { |level| level / 6 }.ml).to be_within(1e-9).of(
      Math::PI * 50 * 50 * 300 / 3 / 1000
    )
  end

  it "comes to the integral of a smooth limb as the square of the slices' height" do
    exact =
      Math::PI * (0..30_000).sum { |i| (40 + (10 * Math.sin((i + 0.5) / 30_000 * Math::PI)))**2 } *
        300 / 30_001 / 1000
    errors =
      [5, 10, 20].map do |slices|
        (
          sliced(300, slices) do |level|
            (40 + (10 * Math.sin(level.to_f / 300 * Math::PI))).to_r
          end.ml - exact
        ).abs
      end
    expect(errors.each_cons(2).map { |coarse, fine| coarse / fine }).to all(be_within(0.6).of(4))
  end

  it "grows with the square of the girth and with the length, and not with where the levels begin" do
    sizes = PropCheck::Generators.array(PropCheck::Generators.choose(150..700), min: 2, max: 8)
    PropCheck.forall(sizes) do |girths|
      levels = girths.each_index.map { |i| i * 40 }
      one = described_class.new(levels.zip(girths).to_h)
      expect(described_class.new(levels.zip(girths.map { |c| c * 2 }).to_h).cones).to eq one.cones *
           4
      expect(described_class.new(levels.map { |l| l * 3 }.zip(girths).to_h).cones).to eq one.cones *
           3
      expect(described_class.new(levels.map { |l| l + 70 }.zip(girths).to_h).cones).to eq one.cones
    end
  end

  it "is held against another of exactly the same levels only" do
    one = described_class.new({ 0 => 220, 40 => 250 })
    expect(one.percent_more_than(described_class.new({ 0 => 220, 41 => 250 }))).to be_nil
    expect(one.percent_more_than(described_class.new({ 0 => 200, 40 => 200 }))).to be > 0
    expect { described_class.new({ 0 => 220 }) }.to raise_error(ArgumentError)
  end

  # International Society of Lymphology, consensus document of 2020, from memory
  {
    nil => nil,
    -3 => nil,
    5 => nil,
    Rational(501, 100) => "minimal",
    Rational(1999, 100) => "minimal",
    20 => "moderate",
    40 => "moderate",
    Rational(4001, 100) => "severe"
  }.each do |percent, severity|
    it("calls #{percent.inspect} percent #{severity.inspect}") do
      expect(described_class.severity(percent)).to eq severity
    end
  end
end

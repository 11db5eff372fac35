# frozen_string_literal: true

require "spec_helper"
require "prop_check"

RSpec.describe Handrail::Compression::FewestChanges do
  def states(pressures, **how)
    described_class.new(
      pressures.each_with_index.to_h { |p, i| [i + 1, Rational(p.to_s)] },
      **how
    ).straps
  end

  # every choice of straps that stay, tried out
  def best(pressures, bottom, top, within)
    n = pressures.size
    targets = targets(n, bottom, top)
    (0...(2**n))
      .filter_map do |mask|
        staying = (0...n).select { |i| mask[i] == 1 }
        next if staying.any? { |i| (pressures[i] - targets[i]).abs > within }
        next if staying.each_cons(2).any? { |i, j| pressures[j] > pressures[i] }

        [-staying.size, changed(pressures, targets, staying)]
      end
      .min
  end

  def changed(pressures, targets, staying)
    (pressures.each_index.to_a - staying).sum do |i|
      below = staying.reverse.find { |j| j < i }
      above = staying.find { |j| j > i }
      value = [targets[i], below ? pressures[below] : 10_000].min
      ([value, above ? pressures[above] : 0].max - pressures[i]).abs
    end
  end

  def targets(count, bottom, top)
    Array.new(count) do |i|
      count == 1 ? bottom : bottom + ((top - bottom) * Rational(i, count - 1))
    end
  end

  it "lets stay as many as any choice could, and changes as little, whatever the pressures" do
    pressures = PropCheck::Generators.array(PropCheck::Generators.choose(20..60), min: 1, max: 8)
    PropCheck.forall(pressures, PropCheck::Generators.choose(0..8)) do |given, within|
      straps = states(given, within: within)
      found = [
        -straps.count { |s| s.state == :leave },
        straps.sum { |s| s.set_to ? (s.set_to - s.pressure).abs : 0 }
      ]
      wanted = best(given, Rational(95, 2), 30, within)
      expect(found.first).to be <= wanted.first
      expect(found.last).to eq wanted.last
    end
  end

  it "leaves a wrap that falls from the lowest to the top strap as it is" do
    expect(states([47, 44, 40, 37, 33, 30]).map(&:state)).to all(eq :leave)
  end

  it "eases the one that presses more than the strap below it, and names to what" do
    found = states([47, 48, 40.5, 37, 33.5, 30])[1]
    expect([found.state, found.set_to, found.target]).to eq [:ease, 44, 44]
  end

  it "sets no strap above the one below it that stays, nor below the one above it that stays" do
    found = states([45, 60, 44, 30], bottom: 45, top: 42, within: 3)
    expect(found.map(&:state)).to eq %i[leave ease leave pull]
    expect(found[1].set_to).to eq 44
  end

  it "holds the band's edge, and one strap to the bottom's target" do
    expect(states([50.5]).map(&:state)).to eq [:leave]
    expect(states([50.6]).map(&:state)).to eq [:ease]
  end
end

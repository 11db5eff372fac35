# frozen_string_literal: true

require "spec_helper"

# A drawn figure is kept by its key: two that look different must never have the same.
RSpec.describe Handrail::Drawings::Figure, "#key" do
  let(:figures) do
    Handrail::Anatomy::Vocabulary.default.map(&:figure).uniq.map { |key| shape(key) }
  end
  let(:spots) do
    %w[here there].map { |words| [described_class::Spot[x: 100, y: 90, words: words]] }
  end
  let(:devices) do
    strap = described_class::Strap[number: 1, level: 300, state: :done, mark: "2 cm"]
    bare = described_class::Device[shells: [[200, 400]], straps: [strap]]
    [
      bare,
      bare.with(shells: [[210, 400]]),
      bare.with(hinge: 300, upright: "outer"),
      bare.with(hinge: 300, upright: "inner"),
      bare.with(opening: [20, 310, 40]),
      bare.with(seams: [-60, 60]),
      bare.with(straps: [strap.with(number: 2)]),
      bare.with(straps: [strap.with(level: 320)]),
      bare.with(straps: [strap.with(state: :active)]),
      bare.with(straps: [strap.with(mark: "3 cm")])
    ]
  end

  def shape(key) = Handrail::Anatomy::Figure.fetch(key)

  # how one figure can be drawn: each way differs from the first in one thing
  def ways(figure)
    profile = figure.profile
    site = Handrail::Anatomy::Vocabulary.default.find { |one| one.figure == figure.key }
    tape = described_class::Tape[site: site, name: site.short, value: nil, state: :waiting]
    tapes = [
      tape,
      tape.with(name: "other"),
      tape.with(value: "31 cm"),
      tape.with(state: :active),
      tape.with(state: :active, expected: "30 to 32")
    ]
    bent =
      if profile
        wide = [[profile.levels.first, profile.girths.first * 1.2]]
        [{ profile: figure.profile(wide) }, { read: profile.levels.first(1) }]
      end
    [
      {},
      { side: "left" },
      { side: "right" },
      { centre: 120 },
      { slim: true, tapes: [tape] },
      { grown: [1.1, 1] },
      *bent,
      *tapes.map { |one| { tapes: [one] } },
      *devices.map { |one| { device: one } },
      *spots.map { |one| { spots: one } }
    ]
  end

  def how_of(figure, how) = { profile: figure.profile }.merge(how)

  it "is another wherever the drawing is" do
    drawn =
      figures.flat_map do |figure|
        ways(figure).map { |how| described_class.new(figure, **how_of(figure, how)) }
      end
    expect(figures.size).to be > 5
    drawn
      .group_by(&:key)
      .each_value { |same| expect(same.map(&:to_s).uniq.size).to eq(1), same.first.key.inspect }
    # each thing that is given shows on one figure or another: the ways above are ways that can be seen
    seen = drawn.first(ways(figures.first).size).map(&:to_s).uniq.size
    expect(seen).to be > 15
  end
end

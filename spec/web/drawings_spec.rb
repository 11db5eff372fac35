# frozen_string_literal: true

require "spec_helper"
require "nokogiri"

RSpec.describe Handrail::Web::Drawings do
  def parse(svg) = Nokogiri::XML(svg, &:strict).tap(&:remove_namespaces!)

  describe Handrail::Web::Drawings::Leg do
    let(:profile) { Handrail::Anatomy::Profile.new(Handrail::Anatomy::Profile::LEG) }

    def leg(side, **how) = parse(described_class.new(profile, side: side, **how).to_s)
    def xs(path) = path["d"].scan(/-?[\d.]+/).each_slice(2).map { |x, _| x.to_f }

    it "draws the leg as wide as its girths say" do
      tape = described_class::Tape[level: 320, name: "calf", value: "37.4 cm", state: :done]
      left, *, right = xs(leg("left", tapes: [tape]).at_css(".tape-done")).each_slice(1).map(&:first).minmax.then { |min, max| [min, max] }
      radius = 374 / (2 * Math::PI) * described_class::SCALE * described_class::STRETCH
      expect((right || 0) - left).to be_within(1).of(2 * radius)
    end

    it "puts the inner side of a left leg on the viewer's left, of a right leg on the right" do
      words = ->(side) { leg(side).css("text").to_h { |t| [t.text, t["x"].to_f] }.slice("inner", "outer") }
      expect(words["left"]["inner"]).to be < words["left"]["outer"]
      expect(words["right"]["inner"]).to be > words["right"]["outer"]
    end

    it "mirrors the outline from side to side" do
      left, right = %w[left right].map { |side| xs(leg(side).at_css(".skin")) }
      expect(left.max - described_class::CENTRE).to be_within(0.6).of(described_class::CENTRE - right.min)
    end

    it "lights the site being read, keeps the others, and says all of it in words" do
      tapes = [described_class::Tape[level: 285, name: "calf", value: "37.2 cm", state: :active],
               described_class::Tape[level: 585, name: "thigh", state: :waiting]]
      drawing = leg("left", tapes: tapes, bracket: Handrail::Anatomy::Vocabulary.default[CoreHelpers::CALF])
      expect([drawing.css(".tape-on").size, drawing.css(".tape-waiting").size]).to eq [1, 1]
      expect(drawing.root["aria-label"]).to eq "Left leg from the front: calf 37.2 cm"
      expect(drawing.css("text").map(&:text)).to include("mid patella", "15 cm")
    end

    it "stands the upright on the side that the configuration says" do
      device = described_class::Device[shells: [[165, 402], [470, 625]], upright: "outer", hinge: 425,
                                       straps: [described_class::Strap[number: 1, level: 380, state: :done]]]
      hinge = ->(side, upright) { leg(side, device: device.with(upright: upright)).at_css(".hinge")["cx"].to_f - described_class::CENTRE }
      expect([hinge["left", "outer"], hinge["left", "inner"], hinge["right", "outer"]].map { |x| x <=> 0 }).to eq [1, -1, -1]
    end

    it "escapes what people typed" do
      tape = described_class::Tape[level: 285, name: "<b>&", value: "\"1\"", state: :done]
      expect(leg("left", tapes: [tape]).css("text").map(&:text)).to include("<b>&", "\"1\"")
    end
  end

  describe Handrail::Web::Drawings::SizeTape do
    def tape(sizes, text, **how)
      match = chart(sizes, **how).match([reading(text, site: "calf")])
      part = match.parts.first
      parse(described_class.new(part.part, part.part.demands.first, value: part.values.values.first, sd: 3.7, chosen: part.size).to_s)
    end

    let(:sizes) { { "S" => { "calf" => 320..355 }, "M" => { "calf" => 356..375 }, "L" => { "calf" => 376..405 } } }

    it "stands the pointer in the chosen segment" do
      drawing = tape(sizes, "36.6 cm")
      chosen = drawing.at_css(".segment.is-chosen")["d"].scan(/[MH]([\d.]+)/).flatten.map(&:to_f).minmax
      expect(drawing.at_css(".pointer-line")["x1"].to_f).to be_between(*chosen)
      expect(drawing.at_css(".pointer-figure").text).to eq "36.6"
    end

    it "keeps a reading off the chart at its end" do
      expect(tape(sizes, "60 cm").at_css(".pointer-line")["x1"].to_f).to be <= described_class::WIDTH
      expect(tape(sizes, "10 cm").at_css(".pointer-line")["x1"].to_f).to be >= 0
    end

    it "draws overlapping sizes on two rows" do
      drawing = tape({ "S" => { "calf" => 320..360 }, "M" => { "calf" => 350..380 } }, "33 cm")
      expect(drawing.css(".segment").map { |s| s["d"][/M[\d.]+ (\d+)/, 1] }.uniq.size).to eq 2
    end
  end
end

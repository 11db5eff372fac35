# frozen_string_literal: true

require "spec_helper"
require "nokogiri"

RSpec.describe Handrail::Drawings do
  def parse(svg) = Nokogiri.XML(svg, &:strict).tap(&:remove_namespaces!)

  describe Handrail::Drawings::SVG do
    it "writes a number with one decimal at most, on both sides of nothing" do
      written = {
        12.34 => "12.3",
        12.35 => "12.4",
        12.96 => "13",
        7 => "7",
        0.04 => "0",
        0.5 => "0.5"
      }
      written.each do |number, text|
        expect([number, described_class.new.n(number)]).to eq [number, text]
      end
      written
        .reject { |_, text| text == "0" }
        .each do |number, text|
          expect([number, described_class.new.n(-number)]).to eq [number, "-#{text}"]
        end
      expect([-0.04, Rational(7, 2), "12px"].map { |one| described_class.new.n(one) }).to eq %w[
           0
           3.5
           12px
         ]
    end
  end

  describe Handrail::Drawings::Figure do
    let(:shape) { Handrail::Anatomy::Figure.fetch("leg") }

    def leg(side, **how) =
      parse(described_class.new(shape, profile: shape.profile, side: side, **how).to_s)
    def xs(path) = path["d"].scan(/-?[\d.]+/).each_slice(2).map { |x, _| x.to_f }
    def site(key) = Handrail::Anatomy::Vocabulary.default.fetch(key)
    def tape(key, **how) = described_class::Tape[site: site(key), name: site(key).short, **how]

    it "draws the leg as wide as its girths say, fuller inside than outside" do
      left, _, right =
        xs(
          leg("left", tapes: [tape("calf_widest", value: "37.4 cm", state: :done)]).at_css(
            ".tape-done"
          )
        )
      radius = 374 / (2 * Math::PI) * shape.scale
      expect(right - left).to be_within(1).of(2.2 * radius)
      expect(shape.edges(310).map(&:abs)).to match [
              be > radius / shape.scale,
              be < shape.edges(310).first.abs
            ]
    end

    it "puts the inner side of a left leg on the viewer's left, of a right leg on the right" do
      words = ->(side) do
        leg(side).css("text").to_h { |t| [t.text, t["x"].to_f] }.slice("inner", "outer")
      end
      expect(words["left"]["inner"]).to be < words["left"]["outer"]
      expect(words["right"]["inner"]).to be > words["right"]["outer"]
    end

    it "mirrors the outline from side to side" do
      left, right = %w[left right].map { |side| xs(leg(side).at_css(".skin")) }
      expect(left.max - shape.origin.first).to be_within(0.6).of(shape.origin.first - right.min)
    end

    it "lights the site being read, keeps the others, and says all of it in words" do
      tapes = [
        tape(CoreHelpers::CALF, value: "37.2 cm", state: :active),
        tape("thigh_15_above_mid_patella", state: :waiting)
      ]
      drawing = leg("left", tapes: tapes, bracket: site(CoreHelpers::CALF))
      expect([drawing.css(".tape-on").size, drawing.css(".tape-waiting").size]).to eq [1, 1]
      expect(drawing.root["aria-label"]).to eq "Left leg from the front: calf, 15 cm below 37.2 cm"
      expect(drawing.css("text").map(&:text)).to include("mid patella", "15 cm")
    end

    it "begins two feet at the top, and writes a length beside its line, on the outer side" do
      foot = Handrail::Anatomy::Figure.fetch("foot")
      length = tape("foot_length", value: "24.0 cm", state: :done)
      limbs =
        { "left" => 268, "right" => 112 }.map do |side, centre|
          described_class.new(
            foot,
            side: side,
            tapes: [length],
            grown: [0.8, 0.8],
            centre: centre,
            slim: true
          )
        end
      drawn = parse(described_class.pair(*limbs, label: "two feet"))
      tops =
        drawn
          .css(".skin")
          .map { |skin| skin["d"].scan(/-?[\d.]+/).each_slice(2).map { |_, y| y.to_f }.min }
      expect(tops).to all be_between(10, 90)
      right, left = drawn.css("text.value").sort_by { |text| text["x"].to_f }
      expect([right["text-anchor"], left["text-anchor"]]).to eq %w[end start]
      lines = drawn.css(".tape-done").map { |line| xs(line).sum / 2 }.sort
      expect(right["x"].to_f).to be < lines.first
      expect(left["x"].to_f).to be > lines.last
    end

    describe "a belt on the trunk" do
      let(:trunk) { Handrail::Anatomy::Figure.fetch("trunk") }
      let(:middle) { trunk.origin.first }

      def belt(opening: nil, seams: [])
        device =
          described_class::Device[shells: [[950, 1100]], straps: [], opening: opening, seams: seams]
        Nokogiri.XML(
          described_class.new(trunk, profile: trunk.profile, device: device).to_s
        ).remove_namespaces!
      end

      def hole(along, wide = 60) = belt(opening: [along, 1010, wide]).at_css(".opening")

      it "has its opening on the viewer's right where the stoma is on the wearer's left" do
        places = [70, 0, -70].map { |along| hole(along)["cx"].to_f - middle }
        expect(places.map { |x| x <=> 0 }).to eq [1, 0, -1]
        expect(places.first).to be_within(0.01).of(-places.last)
        # along a round body the same way across is less to see, and never beyond the edge
        expect(places.first).to be < 70 * trunk.scale
        far = hole(10_000)["cx"].to_f - middle
        edge = trunk.edges(1010).last * trunk.scale
        expect(far).to be_between(edge * 0.9, edge)
        expect(hole(0, 60)["r"].to_f).to be_within(0.02).of(2 * hole(0, 30)["r"].to_f)
        expect(belt.at_css(".opening")).to be_nil
      end

      it "has a seam where each arm ends at the front panel, as far on both sides" do
        drawn =
          belt(seams: [-75, 75]).css(".seam").map { |path| path["d"][/-?[\d.]+/].to_f - middle }
        expect([drawn.size, drawn.sum.round(2), drawn.last.positive?]).to eq [2, 0.0, true]
      end
    end

    it "stands the upright on the side that the configuration says" do
      device =
        described_class::Device[
          shells: [[165, 402], [470, 625]],
          upright: "outer",
          hinge: 425,
          straps: [described_class::Strap[number: 1, level: 380, state: :done]]
        ]
      hinge = ->(side, upright) do
        leg(side, device: device.with(upright: upright)).at_css(".hinge")["cx"].to_f -
          shape.origin.first
      end
      expect(
        [hinge["left", "outer"], hinge["left", "inner"], hinge["right", "outer"]].map do |x|
          x <=> 0
        end
      ).to eq [1, -1, -1]
    end

    it "escapes what people typed" do
      drawing = leg("left", tapes: [tape("calf_widest", value: "\"1\" <b>&", state: :done)])
      expect(drawing.css("text").map(&:text)).to include("\"1\" <b>&")
    end

    it "draws every figure with each of its sites, inside its frame" do
      Handrail::Anatomy::Vocabulary.default.each do |site|
        figure = Handrail::Anatomy::Figure.fetch(site.figure)
        drawing =
          parse(
            described_class.new(
              figure,
              profile: figure.profile,
              side: "right",
              tapes: [tape(site.key, value: "1 cm", state: :active)]
            ).to_s
          )
        at = xs(drawing.at_css(".tape-on"))
        expect(at).to all(be_between(0, described_class::WIDTH)), site.key
      end
    end

    it "follows the wearer: a thicker leg is drawn thicker where it was read, and nowhere beyond its " \
         "neighbours' share" do
      thick = shape.profile([[320, 450]])
      wide = ->(profile) { shape.edges(320, profile).then { |l, r| r - l } }
      expect(wide[thick] / wide[shape.profile]).to be_within(1e-6).of(450 / 374.0)
    end
  end

  describe Handrail::Drawings::SizeTape do
    def tape(sizes, text, **how)
      match = chart(sizes, **how).match([reading(text, site: "calf")])
      part = match.parts.first
      parse(
        described_class.new(
          part.part,
          part.part.demands.first,
          value: part.values.values.first,
          sd: 3.7,
          chosen: part.size
        ).to_s
      )
    end

    let(:sizes) do
      {
        "S" => {
          "calf" => 320..355
        },
        "M" => {
          "calf" => 356..375
        },
        "L" => {
          "calf" => 376..405
        }
      }
    end

    it "stands the pointer in the chosen segment" do
      drawing = tape(sizes, "36.6 cm")
      chosen =
        drawing.at_css(".segment.is-chosen")["d"].scan(/[MH]([\d.]+)/).flatten.map(&:to_f).minmax
      expect(drawing.at_css(".pointer-line")["x1"].to_f).to be_between(*chosen)
      expect(drawing.at_css(".pointer-figure").text).to eq "36.6"
    end

    it "keeps a reading off the chart at its end" do
      expect(tape(sizes, "60 cm").at_css(".pointer-line")["x1"].to_f).to be <=
        described_class::WIDTH
      expect(tape(sizes, "10 cm").at_css(".pointer-line")["x1"].to_f).to be >= 0
    end

    it "draws overlapping sizes on two rows" do
      drawing = tape({ "S" => { "calf" => 320..360 }, "M" => { "calf" => 350..380 } }, "33 cm")
      expect(drawing.css(".segment").map { |s| s["d"][/M[\d.]+ (\d+)/, 1] }.uniq.size).to eq 2
    end
  end

  describe Handrail::Drawings::Piece do
    let(:piece) do
      Handrail::Sizing::Piece[
        width: 1080.0,
        height: 150.0,
        shapes: [
          [:outline, [[0, 0], [1080, 0], [1080, 150], [0, 150]]],
          [:hole, 500, 90, 65],
          [:dim, 0, 190, 1080, 190, "108 cm"],
          [:mark, 20, 20, "L"],
          [:cut, 800, 126, 1080, 126],
          [:arc, 100, 75, 50, 90, 360],
          [:label, 5, 5, "opening"],
          [:ring, 10, 10, 20],
          [:fold, 5, 0, 5, 150]
        ]
      ]
    end

    def on(width) = parse(described_class.new(piece, label: "Belt", width: width).to_s)

    it "is drawn on paper in millimetres at a whole scale that fits, with a ruler of 10 cm" do
      drawing = on(nil)
      scale = described_class.new(piece, label: "Belt").scale
      box = drawing.root["viewBox"].split.map(&:to_f)
      expect(drawing.root["width"].to_f * scale).to be_within(0.1).of(box[2])
      expect(drawing.root["width"].to_f).to be <= 178
      ruler = drawing.css(".piece-dim").map { |line| (line["x2"].to_f - line["x1"].to_f).abs }
      expect(ruler).to include(be_within(0.5).of(100.0 * scale))
      expect(drawing.text).to include("Scale 1 : #{scale}")
    end

    it "keeps its proportions on the screen, and no ruler" do
      drawing = on(790)
      box = drawing.root["viewBox"].split.map(&:to_f)
      width, height = %w[width height].map { |name| drawing.root[name].to_f }
      expect(width / height).to be_within(0.02).of(box[2] / box[3])
      expect(drawing.text).not_to include("on this paper")
    end

    it "draws every shape, and says its lengths to who can not see" do
      drawing = on(380)
      %w[piece-edge piece-hole piece-cut piece-fold piece-mark piece-strap piece-end].each do |look|
        expect(drawing.css(".#{look}")).not_to be_empty, look
      end
      expect(drawing.root["aria-label"]).to eq "Belt: 108 cm, opening"
    end
  end

  describe Handrail::Drawings::ChartTape do
    def row(size, min, max)
      Handrail::Sizing::Chart::Row[
        part: "",
        size: size,
        site: "calf_widest",
        min: Rational(min),
        max: Rational(max),
        unit: "cm"
      ]
    end

    def tape(*rows, **how) = parse(described_class.new(rows.each_with_index.to_a, **how).to_s)

    it "has two grips a band that say their value, reachable by key" do
      grips = tape(row("S", 300, 349), row("M", 350, 399)).css(".grip")
      expect(
        grips.map { |grip| %w[data-line data-edge aria-valuetext].map { |name| grip[name] } }
      ).to eq [
           ["0", "min", "30 cm"],
           ["0", "max", "34.9 cm"],
           ["1", "min", "35 cm"],
           ["1", "max", "39.9 cm"]
         ]
      expect(grips).to all(satisfy { |grip| grip["tabindex"] == "0" && grip["role"] == "slider" })
    end

    it "puts bands that overlap below each other, and marks a reversed one" do
      drawing = tape(row("S", 300, 360), row("M", 350, 399), row("L", 449, 400))
      heights = drawing.css(".segment").map { |band| band["d"][/M[\d.]+ (\d+)/, 1].to_i }
      expect(heights[1]).to be > heights[0]
      expect(drawing.css(".segment.is-wrong").size).to eq 1
    end

    it "is only looked at without grips" do
      expect(tape(row("S", 300, 349), grips: false)).to(
        satisfy { |drawing| drawing.css(".grip").empty? && drawing.root["role"] == "img" }
      )
    end
  end

  describe "figures that hold what they show" do
    figures = Handrail::Anatomy::Figure
    tape = Handrail::Drawings::Figure::Tape

    # numbers of the outline: [[x, y], ...]
    def outline(drawing)
      drawing[/<path d="([^"]+)" class="skin"/, 1]
        .scan(/(-?[\d.]+) (-?[\d.]+)/)
        .map { |xy| xy.map(&:to_f) }
    end

    %w[trunk trunk_back].each do |key|
      [0.8, 1, 1.3, 1.7].each do |size|
        it "keeps both arms of a wearer #{size} times as wide inside the picture (#{key})" do
          figure = figures.fetch(key)
          profile = figure.profile(figure.reference.map { |level, girth| [level, girth * size] })
          xs, ys = outline(Handrail::Drawings::Figure.new(figure, profile: profile).to_s).transpose
          expect(xs.minmax).to match [be >= 0, be <= 2 * figure.origin.first]
          expect(ys.minmax).to match [be >= 0, be <= Handrail::Drawings::Figure::HEIGHT]
        end
      end
    end

    it "names every reading of a long orthosis above the foot of the picture, none on another" do
      sites =
        Handrail::Anatomy::Vocabulary.default.each.select { |site| site.figure == "leg" }.first(8)
      tapes =
        sites.map do |site|
          tape[site: site, name: "height of the malleolus", value: "8.1 cm", state: :done]
        end
      drawing =
        Handrail::Drawings::Figure.new(figures.fetch("leg"), side: "left", tapes: tapes).to_s
      ys = drawing.scan(/<text x="[\d.]+" y="([\d.]+)" class="value"/).flatten.map(&:to_f).sort
      expect(ys.size).to eq 8
      expect(ys.last).to be <= Handrail::Drawings::Figure::HEIGHT
      expect(ys.each_cons(2).map { |a, b| b - a }.min).to be >= 37
    end

    it "breaks a name before it is longer than its line" do
      Handrail::Anatomy::Vocabulary.default.each do |site|
        next unless site.figure

        drawn =
          Handrail::Drawings::Figure.new(
            figures.fetch(site.figure),
            side: "left",
            tapes: [Handrail::Drawings::Figure::Tape[site: site, name: site.short, state: :active]]
          ).to_s
        lines = drawn.scan(/class="said is-on">([^<]+)</).flatten
        long =
          lines.select { |line| line.include?(" ") && line.size > Handrail::Drawings::Figure::LINE }
        expect([site.key, lines.size, long]).to match [site.key, be > 0, []]
      end
    end

    it "draws no point of a figure twice as far as its widest edge" do
      figures.all.each_value do |figure|
        steps = figure.silhouette
        expect(steps.first[0]).to eq figure.from
        expect(steps.last[0]).to eq figure.to
        expect(steps).to all(satisfy { |_, left, right| left < right })
      end
    end

    it "bends between two points of an outline by less than a quarter of a dot on the screen" do
      figures.all.each_value do |figure|
        profile = figure.profile
        bent =
          figure
            .silhouette(profile)
            .each_cons(2)
            .flat_map do |low, high|
              middle = figure.edges((low[0] + high[0]) / 2.0, profile)
              [1, 2].map do |edge|
                (((low[edge] + high[edge]) / 2) - middle[edge - 1]).abs * figure.scale
              end
            end
        expect([figure.key, bent.max]).to match [figure.key, be < 0.25]
      end
    end
  end
end

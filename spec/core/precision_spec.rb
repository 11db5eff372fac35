# frozen_string_literal: true

RSpec.describe Handrail::Measuring do
  describe Handrail::Measuring::Tilt do
    # the perimeter of the ellipse that the tape lies on, by the midpoint rule
    def by_integral(degrees, steps = 20_000)
      long = 1 / Math.cos(degrees * Math::PI / 180)
      (0...steps).sum do |i|
        t = 2 * Math::PI * (i + 0.5) / steps
        Math.hypot(long * Math.sin(t), Math.cos(t))
      end / steps
    end

    it "reads longer by the perimeter of the ellipse, as a numeric integral says" do
      [0, 1, 5, 10, 20, 45, 80].each do |degrees|
        expect(described_class.factor(degrees)).to be_within(1e-9).of(by_integral(degrees))
      end
    end

    it "is 1 + t^2/4 for small tilts, the first term of the series" do
      t = 2 * Math::PI / 180
      expect(described_class.factor(2) - 1).to be_within(1e-6).of((t**2) / 4)
      expect(described_class.error(370, 10)).to be_within(0.1).of(2.9)
    end

    it "does not lie along the limb" do
      expect { described_class.factor(90) }.to raise_error(ArgumentError)
    end
  end

  describe Handrail::Measuring::Precision do
    let(:leg) { Handrail::Anatomy::Figure.fetch("leg") }
    let(:value) { Handrail::Measuring::Repeats.new([mm(372), mm(374)], resolution: mm(1)) }

    it "is the batch contract's standard deviation when nothing more is known" do
      expect(described_class::PLAIN.sd(CoreHelpers::CALF, value)).to eq value.sd
    end

    it "adds what a misplaced mark does on this wearer, as the closed form of a cone says" do
      cone = Handrail::Anatomy::Profile.new([[100, 200], [600, 400]])
      precision = described_class.new(slopes: { CoreHelpers::CALF => cone.slope(285) })
      expect(precision.sd(CoreHelpers::CALF, value)).to be_within(1e-9).of(
        Math.hypot(value.sd, 0.4 * described_class::LEVEL)
      )
    end

    it "is larger on a steep leg than on an even one, and not smaller for more repeats than the mark allows" do
      steep, even =
        [[[285, 372], [320, 430]], [[285, 372], [320, 374]]].map do |known|
          described_class.of(leg.profile(known), figure: "leg")
        end
      expect(steep.sd(CoreHelpers::CALF, value)).to be > even.sd(CoreHelpers::CALF, value)
      many = Handrail::Measuring::Repeats.new(Array.new(100) { mm(372) }, resolution: mm(1))
      expect(steep.sd(CoreHelpers::CALF, many)).to be > steep.sd(CoreHelpers::CALF, value) * 0.5
    end

    it "takes the fitter's own repeatability in place of 1 %" do
      own = described_class.new(repeatability: { CoreHelpers::CALF => 0.005 })
      expect(own.sd(CoreHelpers::CALF, value)).to be_within(1e-9).of(373 * 0.005 / Math.sqrt(2))
      expect(own.sd("elsewhere", value)).to eq value.sd
    end
  end

  # Perini TA et al., Rev Bras Med Esporte 11, 2005: TEM = sqrt(sum d^2 / 2n)
  describe Handrail::Measuring::Repeatability do
    let(:pairs) { [[370, 372], [401, 400], [352, 355], [388, 388]] }

    it "is the technical error of measurement, absolute and relative" do
      found = described_class.of(pairs)
      expect(found.tem).to be_within(1e-9).of(Math.sqrt(14 / 8.0))
      expect(found.relative).to be_within(1e-9).of(100 * Math.sqrt(14 / 8.0) / 378.25)
    end

    it "stands in for the usual figure from ten pairs on" do
      expect(
        [described_class.of(pairs).enough?, described_class.of((pairs * 3).first(10)).enough?]
      ).to eq [false, true]
      expect(described_class.of([[300, 320]] * 10).finding).to eq :often
    end
  end

  describe Handrail::Measuring::Pairing do
    def pairing(left, right, **how)
      described_class.new(
        *[left, right].map { |v| Handrail::Measuring::Repeats.new([mm(v)], resolution: mm(1)) },
        kind: :sides,
        names: %w[left right],
        **how
      )
    end

    it "calls a difference between sides unusual only beyond error and beyond 5 %" do
      expect(
        [pairing(370, 373), pairing(370, 385), pairing(370, 400)].map { |p| [p.real?, p.unusual?] }
      ).to eq [[false, false], [true, false], [true, true]]
      found = pairing(370, 400).finding
      expect([found.code, found.by, found.way, found.names]).to eq [
           :unusual,
           30,
           :less,
           %w[left right]
         ]
    end
  end

  describe Handrail::Measuring::Plan do
    def plan(family, config, rows = nil, **how)
      chart = rows && Handrail::Sizing::Chart.build(rows)
      described_class.new(
        Handrail::Families::Registry.fetch(family),
        config: config,
        chart: chart,
        **how
      ).items
    end

    it "takes all readings of one posture together, those that decide first" do
      items = plan("abdominal_support_belt", { "pouch" => "one_piece" })
      expect(items.map(&:posture).chunk_while { |a, b| a == b }.map(&:first)).to eq %w[
           standing
           lying
         ]
      expect(items.select(&:twin).map(&:key)).to eq %w[
           abdomen_at_stoma:standing
           abdomen_at_stoma:lying
         ]
    end

    it "asks only for the sites that the order needs" do
      expect(
        plan("abdominal_support_belt", { "pouch" => "none" }).map { |i| i.site.key }
      ).not_to include("weld_width", "belt_edge_to_stoma")
      thigh = plan("anti_embolism_stocking", { "length" => "thigh", "side" => "both" })
      expect(thigh.map(&:key)).to include("thigh_widest:left", "thigh_widest:right")
      expect(thigh.map { |i| i.site.key }).not_to include("heel_to_knee_crease")
    end

    it "counts a reading only in the posture and tension that chart, else family, else site name" do
      item = plan("graduated_stocking", { "length" => "knee", "side" => "left" }).first
      taken = { site: item.site.key, side: "left", posture: "raised", tension: item.tension }
      expect(
        [
          item.counts?(taken),
          item.counts?(taken.merge(posture: "standing")),
          item.counts?(taken.merge(tension: "hard"))
        ]
      ).to eq [true, false, false]
      expect(item.takes?(taken.merge(posture: "standing"))).to be true
      row =
        Handrail::Sizing::Chart::Row[
          part: "",
          size: "M",
          site: item.site.key,
          min: 200,
          max: 300,
          unit: "cm",
          posture: "standing",
          tension: "snug"
        ]
      charted =
        plan("graduated_stocking", { "length" => "knee", "side" => "left" }, [row]).find do |i|
          i.site.key == item.site.key
        end
      expect([charted.posture, charted.tension]).to eq %w[standing snug]
    end

    it "lets a chart's hip decide and keeps the others for the record" do
      row =
        Handrail::Sizing::Chart::Row[
          part: "",
          size: "M",
          site: "hip_fullest",
          min: 900,
          max: 1000,
          unit: "cm",
          tension: "hard"
        ]
      deciding = plan("lumbosacral_support", {}, [row]).select(&:decides)
      expect(deciding.map { |i| [i.site.key, i.tension] }).to eq [%w[hip_fullest hard]]
    end
  end
end

# frozen_string_literal: true

require "tmpdir"

RSpec.describe Handrail::Anatomy do
  let(:sites) { Handrail::Anatomy::Vocabulary.default }

  describe Handrail::Anatomy::Vocabulary do
    def level(key) = sites.fetch(key).level.mm

    it "puts levels that are counted from a landmark at that distance from it (common practice, no source)" do
      {
        "thigh_15_above_mid_patella" => 150,
        "thigh_20_above_mid_patella" => 200,
        "calf_15_below_mid_patella" => -150,
        "calf_20_below_mid_patella" => -200
      }.each do |key, mm|
        expect(level(key) - level("knee_mid_patella")).to eq(mm), key
        expect(sites.fetch(key).offset.mm).to eq(mm), key
      end
    end

    it "keeps what look alike apart: three hips, two calves" do
      %w[hip_mid_crest_trochanter hip_fullest trunk_mid_rib_crest]
        .map { |key| level(key) }
        .each_cons(2) { |a, b| expect(a).not_to eq b }
      expect(level("hip_fullest")).to be < level("hip_mid_crest_trochanter")
      expect(level("hip_mid_crest_trochanter")).to be < level("trunk_mid_rib_crest")
      expect(sites.fetch("calf_widest").landmark).to include(
        "Not the same site as 15 cm below mid patella"
      )
      expect(
        %w[hip_mid_crest_trochanter hip_fullest].map { |key| sites.fetch(key).tension }
      ).to eq %w[firm hard]
    end

    # WHO expert consultation on waist circumference and waist-hip ratio, Geneva 2008; ISO 8559-1,
    # from memory
    it "names the published definition where one exists" do
      expect(sites.fetch("trunk_mid_rib_crest").source).to include("WHO", "Geneva 2008")
      expect(sites.fetch("hip_fullest").source).to include("WHO")
      expect(
        %w[calf_widest ankle_narrowest waist_natural foot_length chest_fullest].map do |key|
          sites.fetch(key).source
        end
      ).to all(include("ISO 8559-1"))
      expect(sites.map(&:source)).to all(match(/common practice|WHO|ISO/))
    end

    it "says of every site how it is found, in which postures, how tight, to which step" do
      sites.each do |site|
        expect(site.landmark.split.size).to be > 6, site.key
        expect(site.postures).not_to be_empty
        expect(site.resolution.mm).to be_between(1, 5), site.key
        site.ranges.each_value { |low, high| expect(low.mm * 3 / 2).to(be < high.mm, site.key) }
      end
    end

    it "asks about the other unit for every girth that was typed in inches with cm set" do
      sites
        .select { |site| site.kind == "girth" }
        .each do |site|
          species, (low, high) = site.ranges.first
          inches = mm(((low.mm + high.mm) / 2 / Rational(254, 10)).round * 10) # the figure in inches, taken as cm
          judged =
            Handrail::Measuring::Plausibility.judge(
              site,
              inches,
              typed_unit: "cm",
              species: species
            )
          next if inches.between?(low, high)

          expect([judged.plausible?, judged.unit]).to eq([false, "in"]), site.key
          expect(judged.finding).to include("site" => site.key, "meant" => /in\z/)
        end
    end

    it "knows which species a site belongs to" do
      expect(sites.fetch("hock_above").species).to eq ["dog"]
      expect(sites.fetch("hock_above").range("human")).to be_nil
      expect(sites.count { |site| site.species == ["dog"] }).to eq 9
    end

    {
      "a figure that is none" => ["figure: leg", "figure: tail", /there is no figure tail/],
      "a level off its figure" => ["level: 320 mm", "level: 3200 mm", /lies off the figure/],
      "a landmark that the figure lacks" => [
        "by:\n    - groin",
        "by:\n    - elbow",
        /has no landmark elbow/
      ],
      "a point that the figure lacks" => [
        "- heel_sole\n    - knee_crease",
        "- heel_sole\n    - elbow",
        /no point elbow/
      ],
      "no place at all" => ["    level: 320 mm\n", "", /calf_widest/],
      "an unknown tension" => ["tension: hard", "tension: crushing", /tension/]
    }.each do |what, (from, to, message)|
      it "refuses #{what}" do
        text = File.read(File.join(Handrail::ROOT, "knowledge", "sites.yml"))
        Dir.mktmpdir do |dir|
          path = File.join(dir, "sites.yml").tap { |file| File.write(file, text.sub(from, to)) }
          raw = -> { Handrail::Knowledge.read(path, schema: "sites") }
          expect { described_class.read(raw.call, Handrail::Anatomy::Figure.all) }.to raise_error(
            Handrail::Knowledge::Faulty,
            message
          )
        end
      end
    end
  end

  describe Handrail::Anatomy::Figure do
    def height(figure, name)
      described_class.fetch(figure).place(described_class.fetch(figure).landmarks.fetch(name)).last
    end

    it "has its landmarks in the order in which a body has them" do
      trunk = [
        "symphysis",
        "greater trochanter",
        "iliac crest",
        "lowest rib",
        "xiphoid",
        "armpit",
        "clavicle"
      ]
      expect(trunk.map { |name| height("trunk", name) }).to eq(
        trunk.map { |name| height("trunk", name) }.sort
      )
      expect(height("leg", "inner ankle bone")).to be < height("leg", "fibular head")
      expect(height("leg", "fibular head")).to be < height("leg", "mid patella")
      expect(height("hindlimb", "point of the hock")).to be < height("hindlimb", "stifle")
    end

    it "is as round as its girth: an ellipse of its two half widths measures what the profile says" do
      %w[trunk].each do |key|
        front = described_class.fetch(key)
        side = described_class.fetch("#{key}_side")
        [900, 1000, 1085, 1230].each do |level|
          a, b = [front, side].map { |figure| figure.edges(level).then { |l, r| (r - l) / 2 } }
          ramanujan = Math::PI * ((3 * (a + b)) - Math.sqrt(((3 * a) + b) * (a + (3 * b))))
          expect(ramanujan).to be_within(0.09 * front.profile.girth(level)).of(
            front.profile.girth(level)
          ),
          "#{key} #{level}"
        end
      end
    end

    it "follows the wearer: wider where a girth was read larger" do
      trunk = described_class.fetch("trunk")
      wide = ->(profile) { trunk.edges(1050, profile).then { |l, r| r - l } }
      expect(wide[trunk.profile([[1050, 1200]])]).to be > wide[trunk.profile]
    end

    it "has an unbroken outline: no edge jumps from one step to the next" do
      described_class
        .all
        .each_value
        .reject(&:outline)
        .each do |figure|
          steps = (figure.from.to_i..figure.to.to_i).step(5).map { |level| figure.edges(level) }
          steps.each_cons(2) do |(l0, r0), (l1, r1)|
            expect([(l1 - l0).abs, (r1 - r0).abs].max).to(be < 9, figure.key)
          end
          expect(steps).to all(satisfy { |l, r| l < r })
        end
    end

    it "says which point can not be read" do
      expect { described_class.fetch("leg").place("Q5,5") }.to raise_error(
        Handrail::Error,
        /is no point/
      )
      expect { described_class.fetch("wing") }.to raise_error(Handrail::Error, /no figure “wing”/)
    end
  end
end

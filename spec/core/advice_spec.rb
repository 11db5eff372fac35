# frozen_string_literal: true

RSpec.describe "What is said beside a size" do
  let(:site) { Handrail::Anatomy::Vocabulary.default[CoreHelpers::CALF] }
  let(:sizes) do
    {
      "S" => {
        CoreHelpers::CALF => 320..354
      },
      "M" => {
        CoreHelpers::CALF => 355..375
      },
      "L" => {
        CoreHelpers::CALF => 376..410
      }
    }
  end

  def matched(text) = chart(sizes).match([reading(text)])

  describe Handrail::Measuring::LevelDoubt do
    # a cone that loses 0.8 mm of girth for each mm down
    let(:cone) { Handrail::Anatomy::Profile.new([[0, 140], [285, 368], [435, 488]]) }

    def doubt(text)
      described_class.new(
        cone,
        site,
        Handrail::Measuring::Repeats.new([length(text)], resolution: length("1 mm"))
      )
    end

    it "is exact on a cone" do
      expect([doubt("36.8 cm").lower, doubt("36.8 cm").higher]).to match [
              be_within(1e-6).of(-8),
              be_within(1e-6).of(8)
            ]
    end

    it "names the size that a misread girth would give" do
      part = matched("36.9 cm").parts.first.part
      found = doubt("36.9 cm").finding(part)
      expect([found.way, found.mm.round(6), found.size]).to eq ["higher", 8.0, "L"]
      found = doubt("36.5 cm").finding(part)
      expect([found.mm.abs.round(6), found.size]).to eq [8.0, nil]
    end

    it "says nothing where a centimetre makes no difference" do
      flat = Handrail::Anatomy::Profile.new([[0, 360], [435, 362]])
      value = Handrail::Measuring::Repeats.new([length("36 cm")], resolution: length("1 mm"))
      expect(
        described_class.new(flat, site, value).finding(matched("36 cm").parts.first.part)
      ).to be_nil
    end
  end

  describe Handrail::Sizing::Neighbours do
    it "says what the next sizes would do, and leaves out those far away" do
      found = described_class.findings(matched("37 cm").parts.first)
      expect(found.map { |one| [one.code, one.size.name, one.edge, one.off, one.site] }).to eq [
           [:ends, "S", "35.4 cm", 16, nil],
           [:begins, "L", "37.6 cm", 6, nil]
         ]
      expect(described_class.findings(matched("33 cm").parts.first)).to be_empty
      expect(described_class.findings(matched("50 cm").parts.first)).to be_empty
    end
  end

  describe Handrail::Sizing::Reason do
    it "speaks of every verdict" do
      said = ->(text) { matched(text).remarks.to_h { |one| [one.code, one.figures] } }
      expect(said["31 cm"]["below"]).to include(by: 10.0, band: "32 to 35.4 cm")
      expect(said["45 cm"]["above"]).to include(by: 40.0, band: "37.6 to 41 cm")
      expect(said["37.55 cm"]).to include(
        "between" => include(among: %w[M L]),
        "rule.larger" => include(size: "L")
      )
      expect(said["36.5 cm"]["fits"]).to include(size: "M", bands: ["35.5 to 37.5 cm"])
    end

    it "speaks in the chart's own unit" do
      rows = [
        Handrail::Sizing::Chart::Row[
          part: "",
          size: "M",
          site: "calf",
          min: length("14 in").mm,
          max: length("15 1/4 in").mm,
          unit: "in"
        ]
      ]
      match = Handrail::Sizing::Chart.build(rows).match([reading("14 3/8 in", site: "calf")])
      expect(match.remarks.first.figures).to include(
        readings: [["calf", "14 3/8 in"]],
        bands: ["14 to 15 1/4 in"]
      )
    end
  end

  describe Handrail::Quantity::Day do
    {
      "14 Mar 1961" => [1961, 3, 14],
      "14.3.1961" => [1961, 3, 14],
      "1961-03-14" => [1961, 3, 14],
      "14/3/1961" => [1961, 3, 14],
      "3/14/1961" => [1961, 3, 14],
      "14 March 1961" => [1961, 3, 14],
      "4/4/1961" => [1961, 4, 4]
    }.each do |text, day|
      it("reads #{text}") { expect(described_class.read(text)).to eq Date.new(*day) }
    end

    ["", "yesterday", "31 Feb 1961", "3/4/1961", "14 Mxr 1961", "1961"].each do |text|
      it("refuses #{text.inspect} with a form that is accepted") do
        expect do described_class.read(text) end.to raise_error(
          described_class::Unreadable,
          /\d 19|Apr|Mar/
        )
      end
    end
  end

  describe "a day of the past without its year" do
    let(:day) { Handrail::Quantity::Day }

    def recent(text) = day.recent(text, today: Date.new(2026, 1, 20))

    it "is the last one up to today" do
      expect(
        ["20 Jan", "24 Nov", "24.11.", "24. 11.", "1 jan", "3.1", "14 Mar 1961"].map do |text|
          recent(text).iso8601
        end
      ).to eq %w[2026-01-20 2025-11-24 2025-11-24 2025-11-24 2026-01-01 2026-01-03 1961-03-14]
    end

    it "wants its year where it is longer ago than four months, lies ahead, or is no day" do
      ["21 Jan", "21 Sep", "31.6.", "24/11", "36.5", "24", "24 Mxr"].each do |text|
        expect { recent(text) }.to raise_error(day::Unreadable), text
      end
      expect(recent("22 Sep")).to eq Date.new(2025, 9, 22)
      expect { day.read("24 Nov") }.to raise_error(day::Unreadable)
    end
  end

  describe "Handrail::Sizing::Advice" do
    let(:calf) { { "S" => { "calf" => 320..355 }, "M" => { "calf" => 356..375 } } }

    def by_chart(text) =
      Handrail::Sizing::Advice::ByChart[match: chart(calf).match([reading(text, site: "calf")])]

    it "reads a size off a chart, always leaves made to measure open, and is ready when something was read" do
      advice = by_chart("36.5 cm")
      expect([advice.size, advice.names, advice.verdict, advice.ready?]).to eq [
           "M",
           ["S", "M", "made to measure"],
           "fits",
           true
         ]
      nothing = Handrail::Sizing::Advice::ByChart[match: chart(calf).match([])]
      expect([nothing.size, nothing.ready?, nothing.verdict]).to eq [nil, false, "unusable"]
    end

    it "is clear only where one size holds the readings, well inside" do
      expect([by_chart("33.8 cm").clear?, by_chart("35.5 cm").clear?]).to eq [true, false]
      # 6 mm inside an edge at a standard deviation of 3.6 mm: normal distribution, 94 in 100, is
      # not yet sure
      expect(Handrail::Sizing::Advice::ByChart[match: matched("36.05 cm")].clear?).to be false
      expect(Handrail::Sizing::Advice::ByChart[match: matched("36.15 cm")].clear?).to be true
    end

    it "takes a computed sheet's size, or made to measure when it can not be" do
      make = ->(girth) do
        Handrail::Sizing.sheet_maker("panel_arms").make(
          "Arms",
          {
            girth: length(girth),
            back_panel: length("22 cm"),
            front_plan: length("20 cm"),
            plain_to: length("127 cm"),
            extended_to: length("178 cm"),
            belt_width: "slim",
            join: length("4 cm")
          }
        )
      end
      sheets =
        %w[100cm 131cm 180cm].map { |girth| Handrail::Sizing::Advice::BySheet[sheet: make[girth]] }
      expect(sheets.map(&:size)).to eq [
           "slim belt, no extension",
           "slim belt, one extension each arm",
           "made to measure"
         ]
      expect(sheets.map(&:verdict)).to eq %w[computed computed not_possible]
      expect(sheets.last.names).to eq ["made to measure"]
      arm = Handrail::Sizing::Advice::BySheet[sheet: make["100cm"]].grounds.first
      expect([arm.key, arm.value]).to eq [:arm, "29 cm"]
    end

    it "waits for the trial" do
      part = chart(calf).parts.first
      run = ->(*trials) do
        Handrail::Sizing::Advice::ByTrial[
          run:
            Handrail::Sizing::TrialRun.new(
              part,
              start: "S",
              trials: trials.map { |s, o| Handrail::Sizing::TrialRun::Trial[size: s, outcome: o] }
            ),
          run_names: %w[S M]
        ]
      end
      expect([run[].size, run[].ready?]).to eq [nil, false]
      expect([run[%w[S small], %w[M good]].size, run[%w[S small], %w[M small]].size]).to eq [
           "M",
           "made to measure"
         ]
    end
  end

  describe "what another reading would settle" do
    it "is what the match says once the reading has been taken, and agreed" do
      sizes = { "S" => { "calf" => 320..355 }, "M" => { "calf" => 356..375 } }
      first = chart(sizes).match([reading("37.2 cm", site: "calf")])
      second =
        chart(sizes).match([reading("37.2 cm", site: "calf"), reading("37.2 cm", site: "calf")])
      expect(first.probability_after(["calf"])).to be_within(1e-12).of(second.probability)
      expect(first.probability_after(["thigh"])).to eq first.probability
    end

    # a second opinion by drawing: the share of true values that lie in the chosen band
    it "agrees with Monte Carlo when level and tilt are in the doubt" do
      precision = Handrail::Measuring::Precision.new(slopes: { "calf" => 0.6 }, tilt: true)
      match =
        chart({ "S" => { "calf" => 320..355 }, "M" => { "calf" => 356..375 } }).match(
          [reading("37.2 cm", site: "calf")],
          precision: precision
        )
      random = Random.new(3)
      normal = -> do
        Math.sqrt(-2 * Math.log(1 - random.rand)) * Math.cos(2 * Math::PI * random.rand)
      end
      own = 3.72
      level = 0.6 * 5
      tilt = Handrail::Measuring::Tilt.error(372, 5)
      hits =
        Array
          .new(40_000) { 372 + (own * normal[]) + (level * normal[]) + (tilt * normal[]) }
          .count { |x| x.between?(356, 375) }
      expect(match.probability).to be_within(0.01).of(hits / 40_000.0)
    end
  end
end

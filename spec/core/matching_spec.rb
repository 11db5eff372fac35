# frozen_string_literal: true

RSpec.describe Handrail::Sizing::Chart do
  let(:calf) do
    { "S" => { "calf" => 320..355 }, "M" => { "calf" => 356..375 }, "L" => { "calf" => 370..405 } }
  end
  let(:two) do
    {
      "S" => {
        "thigh" => 400..450,
        "calf" => 320..350
      },
      "M" => {
        "thigh" => 460..500,
        "calf" => 356..380
      },
      "L" => {
        "thigh" => 510..560,
        "calf" => 381..420
      }
    }
  end

  def matched(sizes, values, tie: "larger", primary: nil, **how)
    readings =
      values.flat_map { |site, texts| Array(texts).map { |text| reading(text, site: site.to_s) } }
    chart(sizes, **how).match(readings, rule: Handrail::Sizing::TieRule.new(tie, primary: primary))
  end

  def outcome(...) = matched(...).then { |m| [m.verdict, m.size] }

  it "holds both edges of a band" do
    expect(outcome(calf, { calf: "32 cm" })).to eq [:fits, "S"]
    expect(outcome(calf, { calf: "35.5 cm" })).to eq [:fits, "S"]
    expect(outcome(calf, { calf: "35.51 cm" })).to eq [:between, "M"]
  end

  it "settles an overlap by the rule" do
    expect(outcome(calf, { calf: "37.2 cm" })).to eq [:overlap, "L"]
    expect(outcome(calf, { calf: "37.2 cm" }, tie: "smaller")).to eq [:overlap, "M"]
    # 372 is 6.5 from the middle of M (365.5) and 15.5 from that of L (387.5)
    expect(outcome(calf, { calf: "37.2 cm" }, tie: "nearest")).to eq [:overlap, "M"]
  end

  it "names the ends of the chart and chooses nothing there" do
    expect(outcome(calf, { calf: "31.9 cm" })).to eq [:below, nil]
    expect(outcome(calf, { calf: "40.6 cm" })).to eq [:above, nil]
    expect(matched(calf, { calf: "31.9 cm" })).to have_attributes(
      margin: nil,
      probability: nil,
      read_again: ["calf"]
    )
    expect(matched(calf, { calf: "25 cm" }).read_again).to be_empty
  end

  it "chooses between the neighbours of a gap" do
    expect(outcome(two, { thigh: "45.4 cm", calf: "36 cm" })).to eq [:between, "M"]
    expect(outcome(two, { thigh: "45.4 cm", calf: "36 cm" }, tie: "smaller")).to eq [:between, "S"]
    # out of M by 6 at the thigh; out of S by 4 there and by 10 at the calf
    expect(outcome(two, { thigh: "45.4 cm", calf: "36 cm" }, tie: "nearest")).to eq [:between, "M"]
    expect(outcome(two, { thigh: "45.5 cm", calf: "35.3 cm" }, tie: "nearest").last).to eq "M"
    expect(
      outcome(two, { thigh: "45.4 cm", calf: "39 cm" }, tie: "primary", primary: "calf")
    ).to eq [:between, "L"]
  end

  it "takes the larger when two neighbours are equally near" do
    expect(
      outcome(
        { "S" => { "calf" => 300..350 }, "M" => { "calf" => 360..400 } },
        { calf: "35.5 cm" },
        tie: "nearest"
      )
    ).to eq [:between, "M"]
  end

  it "stays in the row of a grid when a gap is crossed" do
    grid = {
      "S short" => {
        "calf" => 300..350,
        "length" => 380..420
      },
      "S long" => {
        "calf" => 300..350,
        "length" => 421..460
      },
      "M short" => {
        "calf" => 360..400,
        "length" => 380..420
      },
      "M long" => {
        "calf" => 360..400,
        "length" => 421..460
      }
    }
    expect(outcome(grid, { calf: "35.5 cm", length: "40 cm" })).to eq [:between, "M short"]
    expect(outcome(grid, { calf: "35.5 cm", length: "40 cm" }, tie: "smaller")).to eq [
         :between,
         "S short"
       ]
  end

  it "decides a conflict among the sizes that the readings name" do
    crossed = { thigh: "48 cm", calf: "39 cm" }
    expect(outcome(two, crossed)).to eq [:conflict, "L"]
    expect(outcome(two, crossed, tie: "smaller")).to eq [:conflict, "M"]
    # out of M by 10 at the calf; out of L by 30 at the thigh
    expect(outcome(two, crossed, tie: "nearest")).to eq [:conflict, "M"]
    expect(outcome(two, crossed, tie: "primary", primary: "calf")).to eq [:conflict, "L"]
    expect(outcome(two, crossed, tie: "primary", primary: "thigh")).to eq [:conflict, "M"]
  end

  it "refuses a reading of another posture or tension and says which is there" do
    m = matched(calf, { calf: "37 cm" }, tension: "firm")
    expect(m).to have_attributes(verdict: :unusable, size: nil, read_again: ["calf"])
    about = { site: "calf", how: "firm", there: [%w[sitting snug]] }
    expect(m.displaced.map(&:to_h)).to eq [{ code: "displaced", figures: about }]
    expect(m.remarks.first.figures).to include(about)
    none = matched(calf, { thigh: "37 cm" }).remarks.first
    expect([none.code, none.figures[:site]]).to eq %w[no_reading calf]
  end

  it "never uses a struck-out reading" do
    m =
      chart(calf).match(
        [reading("33 cm", site: "calf"), reading("45 cm", site: "calf", struck: true)]
      )
    expect([m.verdict, m.size]).to eq [:fits, "S"]
  end

  it "lets the worst of independent parts count and joins their sizes" do
    rows = [
      ["girth", "1", "calf", 320, 355],
      ["girth", "2", "calf", 356, 390],
      ["length", "short", "shin", 300, 340],
      ["length", "long", "shin", 341, 400]
    ]
    made =
      described_class.build(
        rows.map do |part, size, site, min, max|
          described_class::Row[part: part, size: size, site: site, min: min, max: max, unit: "cm"]
        end
      )
    both = ->(calf, shin) do
      made
        .match([reading(calf, site: "calf"), reading(shin, site: "shin")])
        .then { |m| [m.verdict, m.size] }
    end
    expect(both["36 cm", "32 cm"]).to eq [:fits, "2 short"]
    expect(both["35.55 cm", "32 cm"]).to eq [:between, "2 short"]
    expect(both["36 cm", "45 cm"]).to eq [:above, nil]
  end

  it "refuses a chart that contradicts itself" do
    expect do chart({ "S" => { "calf" => [360, 350] } }) end.to raise_error(
      described_class::Faulty,
      /min 36 cm is above max 35 cm/
    )
    row = described_class::Row[part: "", size: "S", site: "calf", min: 1, max: 2, unit: "cm"]
    expect { described_class.build([row, row]) }.to raise_error(
      described_class::Faulty,
      /already has a band/
    )
  end

  describe "margin and doubt" do
    it "measures the margin to the nearest edge, negative outside" do
      expect(matched(calf, { calf: "35.2 cm" }).margin).to eq 3
      expect(matched(calf, { calf: "35.51 cm" }).margin).to eq Rational(-9, 10)
    end

    it "multiplies independent sites, and agrees with the gem distribution" do
      require "distribution"
      m = matched(two, { thigh: "49.6 cm", calf: "36 cm" })
      phi = Distribution::Normal.method(:cdf)
      thigh = phi[(500 - 496) / 4.96] - phi[(460 - 496) / 4.96]
      expect(m.probability).to be_within(1e-9).of(
        thigh * (phi[(380 - 360) / 3.6] - phi[(356 - 360) / 3.6])
      )
      expect(m.read_again).to eq ["thigh"]
    end

    it "agrees with a Monte Carlo of the reading" do
      random = Random.new(4)
      m = matched(calf, { calf: ["35.2 cm", "35.4 cm"] }, tie: "smaller")
      sd = 353 * 0.01 / Math.sqrt(2)
      inside =
        Array
          .new(200_000) do
            353 +
              (
                sd * Math.sqrt(-2 * Math.log(1 - random.rand)) *
                  Math.cos(2 * Math::PI * random.rand)
              )
          end
          .count { |x| x.between?(320, 355) }
      expect(m.probability).to be_within(0.005).of(inside / 200_000.0)
    end

    it "asks for nothing again when it is sure and the repeats agree" do
      expect(matched(calf, { calf: ["33.9 cm", "34 cm"] })).to have_attributes(
        read_again: [],
        probability: be > 0.95
      )
      expect(matched(calf, { calf: ["33.2 cm", "34 cm"] }).read_again).to eq ["calf"]
    end

    it "gives each size its probability" do
      shares = matched(calf, { calf: "35.5 cm" }).probabilities[""].transform_keys(&:name)
      expect(shares["S"]).to be > shares["M"]
      expect(shares["L"]).to be < 0.001
    end
  end

  it "says why, as data: the readings and bands, the nearest edge, what to read again" do
    fits, close, again = matched(calf, { calf: "35.2 cm" }).remarks
    expect(fits.figures).to eq(
      part: nil,
      readings: [["calf", "35.2 cm"]],
      size: "S",
      bands: ["32 to 35.5 cm"]
    )
    expect(close.figures).to include(size: "S", by: 3.0, inside: true, upper: true, site: "calf")
    expect([again.code, again.figures]).to eq ["again", { sites: ["calf"] }]
  end
end

# frozen_string_literal: true

require "spec_helper"
require "prop_check"

RSpec.describe Handrail::Followup::Trend do
  day = Date.new(2026, 1, 1)

  # NIST Statistical Reference Datasets, "Norris": y and x (the data and the certified values from
  # memory; R 4.2.2's lm gives the same)
  norris_y = [
    0.1,
    338.8,
    118.1,
    888.0,
    9.2,
    228.1,
    668.5,
    998.5,
    449.1,
    778.9,
    559.2,
    0.3,
    0.1,
    778.1,
    668.8,
    339.3,
    448.9,
    10.8,
    557.7,
    228.3,
    998.0,
    888.8,
    119.6,
    0.3,
    0.6,
    557.6,
    339.3,
    888.0,
    998.5,
    778.9,
    10.2,
    117.6,
    228.9,
    668.4,
    449.2,
    0.2
  ]
  norris_x = [
    0.2,
    337.4,
    118.2,
    884.6,
    10.1,
    226.5,
    666.3,
    996.3,
    448.6,
    777.0,
    558.2,
    0.4,
    0.6,
    775.5,
    666.9,
    338.0,
    447.5,
    11.6,
    556.0,
    228.1,
    995.8,
    887.6,
    120.2,
    0.3,
    0.3,
    556.8,
    339.1,
    887.2,
    999.0,
    779.0,
    11.1,
    118.3,
    229.2,
    669.1,
    448.9,
    0.5
  ]

  it "is the line of NIST's Norris set, with its certified slope" do
    trend =
      described_class.new(norris_x.zip(norris_y).map { |x, y| [day + (x * 10).round, y.to_s.to_r] })
    expect((trend.slope * 10).to_f).to be_within(1e-13).of(1.00211681802045)
    # confint(lm(y ~ x)), R version 4.2.2
    expect(trend.interval.map { |bound| bound * 10 }).to match [
            be_within(1e-12).of(1.001243365735578),
            be_within(1e-12).of(1.00299027030533)
          ]
  end

  describe "a limb over seven visits" do
    let(:points) do
      [0, 14, 28, 45, 59, 80, 101].zip([365, 368, 367, 371, 374, 373, 378])
        .map { |d, v| [day + d, v] }
    end
    let(:trend) { described_class.new(points) }

    # lm, confint and predict(interval = "confidence"), R version 4.2.2 Patched (2022-11-10 r83330)
    it "has R's slope, interval and confidence band" do
      expect((trend.slope * 7).to_f).to be_within(1e-9).of(0.119915874177 * 7)
      expect(trend.interval.map { |bound| bound * 7 }).to match [
              be_within(1e-9).of(0.543951470797),
              be_within(1e-9).of(1.13487076768)
            ]
      {
        0 => [362.831345876, 367.679371023],
        50 => [369.834357088, 372.667947229],
        200 => [382.616713286, 395.860353283]
      }.each do |days, band|
        expect(trend.band(day + days)).to match(band.map { |bound| be_within(1e-7).of(bound) })
      end
    end

    it "comes to an edge on the first day on which line and bounds are past it, as R's predict says" do
      found = trend.crossing(upper: 390)
      expect([found.edge, found.on, found.earliest, found.latest]).to eq [
           :upper,
           day + 207,
           day + 164,
           day + 295
         ]
    end

    it "looks at the edge in whose direction it goes, and no farther than 730 days" do
      expect(trend.crossing(lower: 300).to_h.values).to all(be_nil)
      far = trend.crossing(upper: 1000)
      expect([far.edge, far.on, far.earliest, far.latest]).to eq [:upper, nil, nil, nil]
      there = trend.crossing(upper: 370)
      expect([there.on, there.earliest, there.latest]).to eq [day + 101, nil, nil]
    end
  end

  it "says nothing of fewer than three days, and steady where the interval holds zero" do
    expect(described_class.new([[day, 1], [day, 2], [day + 1, 3]]).verdict).to eq :too_few
    expect(described_class.new([[day, 365], [day + 7, 367], [day + 14, 364]]).verdict).to eq :steady
    expect(described_class.new([[day, 365], [day + 7, 365], [day + 14, 365]]).verdict).to eq :steady
  end

  it "falls when it is turned over, does not depend on order, and moves with the days and the unit" do
    PropCheck.forall(
      PropCheck::Generators.array(PropCheck::Generators.choose(200..600), min: 3, max: 9)
    ) do |values|
      points = values.each_with_index.map { |value, i| [day + (i * 9), value] }
      one = described_class.new(points)
      expect(described_class.new(points.reverse).slope).to eq one.slope
      expect(
        described_class.new(points.map { |date, value| [date + 400, value] }).slope
      ).to eq one.slope
      expect(
        described_class.new(points.map { |date, value| [date, value * 10] }).slope
      ).to eq one.slope * 10
      turned = described_class.new(points.map { |date, value| [date, -value] })
      expect(turned.verdict).to eq(
        { rising: :falling, falling: :rising, steady: :steady }.fetch(one.verdict)
      )
    end
  end

  # qt(0.975, df), R version 4.2.2
  {
    1 => 12.7062047361747,
    2 => 4.3026527297495,
    3 => 3.1824463052837,
    5 => 2.5705818356363,
    10 => 2.2281388519863,
    30 => 2.0422724563012,
    200 => 1.9718962236339
  }.each do |freedom, value|
    it "has R's t of #{freedom} degrees of freedom" do
      expect(Handrail::Measuring::Student.quantile(0.975, freedom)).to be_within(1e-10).of(value)
    end
  end
end

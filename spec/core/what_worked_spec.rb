# frozen_string_literal: true

# The order of what is offered, by the clinic's own record.
RSpec.describe Handrail::Fitting::WhatWorked do
  def remedy(key, **more) = Handrail::Families::Remedy[key: key, opens: [], **more]

  def order(record, *remedies) = described_class.new(remedies, record).order.map(&:key)

  let(:first) { remedy("seat_higher") }
  let(:second) { remedy("add_sleeve") }
  let(:third) { remedy("wash_lotion") }

  it "keeps the trade's order while nothing is known, and while the record is thin" do
    expect(order({}, first, second, third)).to eq %w[seat_higher add_sleeve wash_lotion]
    thin = { "seat_higher" => [1, 3], "wash_lotion" => [3, 3] }
    expect(order(thin, first, second, third)).to eq %w[seat_higher add_sleeve wash_lotion]
  end

  it "lets one that clearly fails here sink, and one that clearly works pass only those it beats" do
    record = { "seat_higher" => [2, 20], "wash_lotion" => [18, 20] }
    expect(order(record, first, second, third)).to eq %w[add_sleeve wash_lotion seat_higher]
    beats_one = { "add_sleeve" => [2, 30], "wash_lotion" => [24, 30], "seat_higher" => [24, 30] }
    expect(order(beats_one, first, second, third)).to eq %w[seat_higher wash_lotion add_sleeve]
  end

  it "never puts a cut before what can be undone, nor anything before distress" do
    cut = remedy("trim", for_good: "What is cut off is gone.")
    off = remedy("off_and_wait", distress: true)
    sure = { "trim" => [50, 50], "seat_higher" => [0, 50], "off_and_wait" => [0, 50] }
    expect(order(sure, first, cut)).to eq %w[seat_higher trim]
    expect(order(sure, cut, first)).to eq %w[trim seat_higher]
    expect(order({ "seat_higher" => [50, 50], "off_and_wait" => [0, 50] }, off, first)).to eq(
      %w[off_and_wait seat_higher]
    )
  end

  it "leaves a last resort and what leads away where they stand" do
    away = remedy("read_again", goes_to: "measure", last: true)
    expect(order({ "read_again" => [40, 40], "seat_higher" => [0, 40] }, first, away)).to eq(
      %w[seat_higher read_again]
    )
  end

  it "holds the trade's order as six tries would, seven in ten for the first, one less for each" do
    worked = described_class.new([first, second, third], {})
    expect(worked.belief(0, "seat_higher").map { |n| n.round(6) }).to eq [4.2, 1.8]
    expect(worked.belief(1, "add_sleeve").map { |n| n.round(6) }).to eq [3.6, 2.4]
    expect(worked.belief(9, "wash_lotion").map { |n| n.round(6) }).to eq [1.8, 4.2]
  end

  it "never loses or doubles a remedy, whatever the record" do
    generator = Random.new(9)
    200.times do
      all =
        Array.new(6) do |i|
          remedy("r#{i}", distress: i.zero?, last: i == 5, for_good: (i == 3 ? "cut" : nil))
        end
      record =
        all.to_h do |one|
          (tries = 1 + generator.rand(40)) && [one.key, [generator.rand(tries + 1), tries]]
        end
      found = described_class.new(all, record).order
      expect(found.map(&:key)).to match_array(all.map(&:key))
      expect(found.map(&:kind)).to eq(all.map(&:kind))
    end
  end
end

# The chance that one beta lies above another.
RSpec.describe Handrail::Fitting::Beta do
  # exact for whole numbers (E. Miller, Formulas for Bayesian A/B Testing, 2013; from memory)
  def exact(a, b, c, d)
    log_beta = ->(x, y) { Math.lgamma(x)[0] + Math.lgamma(y)[0] - Math.lgamma(x + y)[0] }
    (0...a).sum do |i|
      Math.exp(log_beta[c + i, b + d] - Math.log(b + i) - log_beta[1 + i, b] - log_beta[c, d])
    end
  end

  it "is a half for two alike, and one less the other way round" do
    [[4, 2], [1, 1], [2.5, 7]].each do |a, b|
      expect(described_class.chance_above(a, b, a, b)).to be_within(1e-6).of(0.5)
    end
    above = described_class.chance_above(4.2, 1.8, 3, 5)
    expect(above + described_class.chance_above(3, 5, 4.2, 1.8)).to be_within(1e-6).of(1)
  end

  it "is what the closed sum for whole numbers gives" do
    [[2, 3, 4, 5], [8, 2, 3, 7], [20, 5, 12, 12], [1, 1, 3, 1]].each do |a, b, c, d|
      expect([a, b, c, d, described_class.chance_above(a, b, c, d).round(5)]).to eq(
        [a, b, c, d, exact(a, b, c, d).round(5)]
      )
    end
  end

  it "is what drawing from both gives" do
    generator = Random.new(4)
    draw =
      lambda do |a, b|
        # whole a and b: order statistic of a + b - 1 uniforms
        Array.new(a + b - 1) { generator.rand }.sort[a - 1]
      end
    [[6, 3, 4, 5], [9, 4, 5, 5]].each do |a, b, c, d|
      share = Array.new(20_000) { draw[a, b] > draw[c, d] }.count(true) / 20_000.0
      expect(described_class.chance_above(a, b, c, d)).to be_within(0.012).of(share)
    end
  end
end

# What became of a change.
RSpec.describe Handrail::Fitting::Outcomes do
  problems = {
    "slides" => Handrail::Families::Problem[key: "slides", shows_in: %w[slip sleeve]],
    "numb" => Handrail::Families::Problem[key: "numb", shows_in: %w[warm]]
  }

  def change(seq, problem = "slides", remedy: "seat", side: "left")
    Handrail::Fitting::Change[problem: problem, remedy: remedy, side: side, opens: [], seq: seq]
  end

  def result(seq, check, outcome = "good", side: "left", place: "")
    Handrail::Fitting::Result[check: check, side: side, place: place, outcome: outcome, seq: seq]
  end

  define_method(:ended) do |changes, results|
    described_class.of(changes, results, problems).map { |try| [try.remedy, try.ended] }
  end

  it "ended the problem where every check that shows it is good at the next look" do
    expect(
      ended([change(5)], [result(3, "slip", "bad"), result(6, "slip"), result(7, "sleeve")])
    ).to eq([["seat", true]])
  end

  it "did not end it where one of them is not" do
    expect(ended([change(5)], [result(6, "slip"), result(7, "sleeve", "bad")])).to eq [
         ["seat", false]
       ]
  end

  it "counts nothing before anybody has looked, nor what was not possible to look at" do
    expect(ended([change(5)], [result(3, "slip", "bad")])).to eq []
    expect(ended([change(5)], [result(6, "slip", "not_possible")])).to eq []
    expect(ended([change(5)], [result(6, "pinch")])).to eq []
  end

  it "takes the first look, and only up to the next change of that side" do
    looks = [result(6, "slip", "bad"), result(9, "slip")]
    expect(ended([change(5), change(8, remedy: "sleeve")], looks)).to eq(
      [["seat", false], ["sleeve", true]]
    )
    expect(ended([change(5), change(6, remedy: "sleeve")], [result(9, "slip")])).to eq [
         ["sleeve", true]
       ]
    expect(ended([change(5)], [result(6, "slip", side: "right")])).to eq []
  end

  it "looks at each strap on its own" do
    both = [result(6, "slip", place: "calf"), result(7, "slip", "bad", place: "shin")]
    expect(ended([change(5)], both)).to eq [["seat", false]]
  end
end

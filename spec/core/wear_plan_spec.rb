# frozen_string_literal: true

# Getting used to a device, day by day.
RSpec.describe Handrail::Followup::WearPlan do
  def plan(**changes) = described_class.new(start: 2, add: 1, every: 2, most: 8, **changes)

  it "adds hours every few days until the most" do
    expect(plan.days.map(&:last).first(6)).to eq [2, 2, 3, 3, 4, 4]
    expect([plan.full_on, plan.hours_on(13), plan.hours_on(12), plan.hours_on(40)]).to eq [
         13,
         8,
         7,
         8
       ]
  end

  it "gathers days of the same hours" do
    expect(plan(start: 6).steps).to eq [[1, 2, 6], [3, 4, 7], [5, 5, 8]]
    expect(plan(start: 8).steps).to eq [[1, 1, 8]]
  end

  it "never passes the most, never falls, and reaches it on the last day, whatever the figures" do
    generator = Random.new(11)
    tried = 0
    500.times do
      start = Rational(1 + generator.rand(16), 4)
      made =
        described_class.new(
          start: start,
          add: Rational(1 + generator.rand(12), 4),
          every: 1 + generator.rand(5),
          most: start + Rational(generator.rand(40), 4)
        )
      tried += 1
      hours = made.days.map(&:last)
      expect(hours).to eq hours.sort
      expect([hours.first, hours.last, made.hours_on(made.full_on + 9)]).to eq [
           made.start,
           made.most,
           made.most
         ]
      expect(hours[-2]).to be < made.most if hours.size > 1
      expect(made.steps.sum { |from, to, _| to - from + 1 }).to eq made.full_on
    rescue described_class::Unsound
      next
    end
    expect(tried).to be > 300
  end

  it "reads what was typed, fractions too, and names what is wrong" do
    read = described_class.read("start" => "1.5", "add" => "0.5", "every" => "1", "most" => "3")
    expect(read.steps.map(&:last)).to eq [1.5, 2, 2.5, 3]
    sound = { "start" => "2", "add" => "1", "every" => "2", "most" => "8" }
    {
      { "start" => "two" } => /hours \(start\)/,
      { "every" => "1.5" } => /how many days/,
      { "most" => "1" } => /less than the beginning/,
      { "most" => "25" } => /a quarter and 24/,
      { "add" => "0" } => /a quarter and 24/,
      { "every" => "0" } => /1 to 14 days/,
      { "every" => "14", "most" => "12" } => /longer than 90 days/
    }.each do |change, message|
      expect { described_class.read(sound.merge(change)) }.to raise_error(
        described_class::Unsound,
        message
      )
    end
  end

  it "is sound in every family that has one" do
    plans = Handrail::Families::Registry.all.values.filter_map { |family| family.wear["break_in"] }
    expect(plans.size).to be >= 8
    expect(plans.map { |raw| described_class.read(raw).full_on }).to all(be_between(2, 40))
  end
end

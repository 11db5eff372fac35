# frozen_string_literal: true

require "prop_check"
require_relative "../support/units"

RSpec.describe Handrail::Quantity::Length do
  let(:tapes) { Handrail::Quantity::Tape::ALL.values }

  # 1 in = 25.4 mm exactly: NIST SP 811 (2008), appendix B
  {
    "14 3/8" => Rational(14_605, 40),
    "14-3/8 in" => Rational(14_605, 40),
    '9"' => Rational(2286, 10),
    "3 3/4 in" => Rational(9525, 100),
    "14⅜″" => Rational(14_605, 40),
    "½ in" => Rational(127, 10),
    "16 1⁄2 inches" => Rational(4191, 10),
    "1 ft 2 in" => Rational(3556, 10),
    "1' 2 1/2\"" => Rational(3683, 10),
    "41,5 cm" => 415,
    "41.5cm" => 415,
    "415 mm" => 415,
    " 41.5  CM " => 415,
    "0.415 m" => 415,
    "0" => 0
  }.each do |typed, mm|
    it("reads #{typed}") { expect(described_class.parse(typed, unit: "in").mm).to eq mm }
  end

  it "takes the unit given before the default, and the default when none is typed" do
    expect(described_class.parse("37.2", unit: "cm").mm).to eq 372
    expect(described_class.parse("37.2 mm", unit: "cm").mm).to eq Rational(372, 10)
  end

  [
    "",
    "abc",
    "12 apples",
    "14 9/8 in",
    "3/0 in",
    "-4 cm",
    "16 to 16 1/2",
    "16-17 cm",
    "1 ft 13 in",
    "1,250 mm",
    "14.5 1/2 in",
    "1e3 mm",
    "9999999 mm",
    "37.2 cm cm",
    "<script>",
    "\xff\xfe"
  ].each do |typed|
    it "refuses #{typed.inspect} and shows a form that is accepted" do
      expect { described_class.parse(typed, unit: "cm") }.to raise_error(
        described_class::Unreadable,
        /\d/
      )
    end
  end

  it "does not even look at what is too long for a length" do
    ["9" * 40_000, "1' " * 20_000, " " * 60_000, "9#{" " * 50_000}cm"].each do |long|
      start = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      expect { described_class.parse(long, unit: "cm") }.to raise_error(described_class::Unreadable)
      expect(Process.clock_gettime(Process::CLOCK_MONOTONIC) - start).to be < 0.05
    end
  end

  it "writes out what is read back as the same length" do
    PropCheck.forall(
      PropCheck::Generators.choose(1..3_000_000),
      PropCheck::Generators.one_of(*%w[mm cm m].map { |u| PropCheck::Generators.constant(u) })
    ) do |thousandths, unit|
      length = described_class.mm(Rational(thousandths, 1000))
      expect(described_class.parse(length.exact(unit), unit: unit)).to eq length
    end
  end

  it "refuses a figure without any unit" do
    expect { described_class.parse("14") }.to raise_error(
      described_class::Unreadable,
      /has no unit.*41\.5 cm/
    )
  end

  it "says of two readings that they are two" do
    expect { described_class.parse("16 to 16 1/2", unit: "in") }.to raise_error(/two readings/)
  end

  it "prints to the tape's resolution, fractions reduced, halves up" do
    expect(
      described_class.parse("14 6/16 in").to_s(Handrail::Quantity::Tape["in 1/8"])
    ).to eq "14 3/8 in"
    expect(mm(365).on(Handrail::Quantity::Tape["in 1/4"])).to eq "14 1/4"
    expect(mm(9).on(Handrail::Quantity::Tape["in 1/8"])).to eq "3/8"
    expect(
      Rational(7445, 20).then { |n| mm(n) }.on(Handrail::Quantity::Tape["cm 1 mm"])
    ).to eq "37.2"
    expect(mm(Rational(3725, 10)).on(Handrail::Quantity::Tape["cm 1 mm"])).to eq "37.3"
    expect(mm(372).on(Handrail::Quantity::Tape["cm 0.5"])).to eq "37.0"
  end

  # common practice, no source: the pairs that fitters use, to the tape's resolution
  {
    "6 in" => "15.0",
    "8 in" => "20.5",
    "50 in" => "127.0",
    "70 in" => "178.0",
    "2 in" => "5.0",
    "1 in" => "2.5"
  }.each do |inches, cm|
    it("shows #{inches} as #{cm} cm on a half-centimetre tape") do
      expect(described_class.parse(inches).on(Handrail::Quantity::Tape["cm 0.5"])).to eq cm
    end
  end

  it "reads back what it printed, on every tape, to within half a step, and exactly the second time" do
    PropCheck.forall(um: PropCheck::Generators.choose(0..3_000_000)) do |um:|
      length = mm(Rational(um, 1000))
      tapes.each do |tape|
        read = described_class.parse(length.to_s(tape))
        expect((read - length).mm.abs).to be <= tape.resolution.mm / 2
        expect(described_class.parse(read.to_s(tape))).to eq read
      end
    end
  end

  it "agrees with ruby-units in every unit" do
    PropCheck.forall(
      n: PropCheck::Generators.choose(1..20_000),
      unit:
        PropCheck::Generators.one_of(
          *%w[mm cm m in ft].map { |u| PropCheck::Generators.constant(u) }
        )
    ) do |n:, unit:|
      second_opinion = RubyUnits::Unit.new(Rational(n, 8), unit).convert_to("mm").scalar
      expect(described_class.parse("#{n / 8} #{n % 8}/8 #{unit}").mm.to_f).to be_within(1e-9).of(
        second_opinion.to_f
      )
    end
  end
end

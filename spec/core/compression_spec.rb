# frozen_string_literal: true

require_relative "../support/units"

RSpec.describe Handrail::Compression::AnkleBrachial do
  def read(**typed) = described_class.read(typed.transform_keys(&:to_s))
  def index(**typed) = read(**typed).first

  # published: NIST SP 811, 2008, appendix B: 1 mmHg = 133.322 Pa
  it "reads pressures in mmHg and kPa, exactly" do
    expect(Handrail::Quantity::Pressure.parse("120").pascal).to eq Rational(15_998_640, 1000)
    expect(
      Handrail::Quantity::Pressure.parse("13.3322 kPa".sub("13.3322", "13.332")).mmhg.to_f
    ).to be_within(0.01).of(100)
    expect(RubyUnits::Unit.new("1 mmHg").convert_to("Pa").scalar.to_f).to be_within(0.001).of(
      133.322
    )
    expect do Handrail::Quantity::Pressure.parse("tight") end.to raise_error(
      Handrail::Quantity::Pressure::Unreadable,
      /Write it like 128/
    )
  end

  it "is each leg's own" do
    legs = index(arm_left: "140", ankle_left_front: "150", ankle_right_front: "70")
    expect([legs.index("left"), legs.index("right")]).to eq [Rational(150, 140), Rational(70, 140)]
    expect(index(arm_left: "140", ankle_left_front: "150").index("right")).to be_nil
  end

  it "is the higher ankle over the higher arm" do
    expect(
      index(
        arm_left: "138",
        arm_right: "142",
        ankle_left_front: "150",
        ankle_left_back: "146"
      ).index("left")
    ).to eq Rational(150, 142)
  end

  # limits from memory: wound-care consensus documents
  it "stops below 0.5, asks up to 0.8 and above 1.3, and does not rule out the rest" do
    states = {
      "69" => :stop,
      "70" => :look_again,
      "111" => :look_again,
      "112" => :good,
      "182" => :good,
      "183" => :look_again
    }
    states.each do |ankle, state|
      expect(index(arm_left: "140", ankle_left_front: ankle).findings(["left"]).first.state).to eq(
        state
      ),
      ankle
    end
  end

  it "says when a pressure is missing, and which figure can not be one" do
    expect(index(arm_left: "140").findings(["right"]).first.code).to eq :unknown
    _, faults = read(arm_left: "1400", ankle_left_front: "so")
    expect(faults).to match(
      "arm_left" => /no systolic pressure/,
      "ankle_left_front" => /can not be read/
    )
  end
end

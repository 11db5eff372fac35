# frozen_string_literal: true

# Where electrodes lie on the locator sheet.
RSpec.describe Handrail::Fitting::Locator do
  family = Handrail::Families::Registry.fetch("stimulator_cuff")
  found = {
    "upper_across" => 45r,
    "upper_down" => 12r,
    "lower_across" => 30r,
    "lower_down" => 110r
  }

  define_method(:sheet) do |side: "left", values: found, electrode: "round_32"|
    config = family.config({ "side" => side }, { "electrode" => electrode })
    described_class.of(family, config, values, side: side)
  end

  it "lays outward offsets to the outer side of either leg, seen from the front" do
    expect(sheet.electrodes.map { |one| [one.key, one.x, one.y] }).to eq [
         ["upper", 45.0, 12.0],
         ["lower", 30.0, 110.0]
       ]
    expect(sheet(side: "right").electrodes.map(&:x)).to eq [-45.0, -30.0]
  end

  it "has one plus and one minus, with leads that part" do
    expect(sheet.electrodes.map(&:pole)).to contain_exactly("plus", "minus")
    expect(sheet.electrodes.map(&:lead)).to contain_exactly("up", "down")
  end

  it "takes size and shape of the product's electrodes" do
    expect(described_class.shape("oval_40_64")).to eq [:oval, 40, 64]
    expect(described_class.shape("round_32")).to eq [:round, 32, 32]
    expect(sheet(electrode: "square_50").electrodes.first.box).to eq [20.0, -13.0, 70.0, 37.0]
    family
      .option("electrode")
      .choices
      .each { |choice| expect(described_class.shape(choice.key).size).to eq 3 }
  end

  it "names what is still to be written, and draws the rest" do
    part = sheet(values: found.except("lower_down"))
    expect([part.missing, part.complete?, part.electrodes.size]).to eq [["Shin"], false, 1]
  end

  it "sees electrodes that touch: round ones by their distance, others by their boxes" do
    expect(sheet.touching?).to be false
    close = found.merge("lower_across" => 45r, "lower_down" => 43r)
    expect(sheet(values: close).touching?).to be true
    expect(sheet(values: close.merge("lower_down" => 44r)).touching?).to be false
    expect(
      sheet(
        values: found.merge("lower_across" => 90r, "lower_down" => 40r),
        electrode: "square_50"
      ).touching?
    ).to be true
  end

  it "frames all that is drawn, the notch among it" do
    left, top, right, bottom = sheet(side: "right").frame
    expect([left, top, right, bottom]).to eq [-61.0, -4.0, 0, 126.0]
  end
end

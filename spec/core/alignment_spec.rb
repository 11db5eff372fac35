# frozen_string_literal: true

# The line of a limb from points on a picture: closed forms, and what must not change it.
RSpec.describe Handrail::Fitting::Alignment do
  def of(line, points, **more) = described_class.of(line, points, **more)

  # a leg whose knee stands so many units outside the straight line, thigh and shank 300 long each
  def leg(outside, side: "left", **more)
    across = side == "left" ? outside : -outside
    of(
      "leg",
      { "hip" => [200, 0], "knee" => [200 + across, 300], "toe" => [200, 600] },
      side: side,
      **more
    )
  end

  it "finds a straight leg straight" do
    expect(leg(0).figures).to eq(angle: 0.0, offset: 0.0, unit: "% of the leg")
  end

  it "gives the angle of two triangles, twice arctan of the offset over the half length" do
    expected = 2 * Math.atan2(15, 300) * 180 / Math::PI
    %w[left right].each do |side|
      expect(leg(15, side: side).angle).to be_within(1e-9).of(expected)
      expect(leg(-15, side: side).angle).to be_within(1e-9).of(-expected)
    end
  end

  it "gives the offset in mm once a length is known, and in parts of a hundred before" do
    expect(leg(15).offset).to be_within(1e-9).of(2.5)
    expect(leg(15, known: 900).offset).to be_within(1e-9).of(22.5)
    expect(leg(15, known: 900).figures[:unit]).to eq "mm"
    expect(leg(-15, known: 900, side: "right").offset).to be_within(1e-9).of(-22.5)
  end

  it "says of a heel that turns outward below that it rolls in" do
    left = {
      "calf" => [100, 0],
      "ankle" => [100, 200],
      "heel" => [100 - (60 * Math.tan(Math::PI / 30)), 260]
    }
    expect(of("heel", left, side: "left").angle).to be_within(1e-9).of(6)
    mirrored = left.transform_values { |x, y| [200 - x, y] }
    expect(of("heel", mirrored, side: "right").angle).to be_within(1e-9).of(6)
    expect(of("heel", left, side: "right").angle).to be_within(1e-9).of(-6)
  end

  it "measures the heel against the shank, and the heel by itself" do
    leaning = { "calf" => [90, 0], "ankle" => [100, 200], "heel" => [103, 260] }
    heel = of("heel", leaning, side: "left")
    expect(heel.angle).to be_within(1e-9).of(0)
    expect(heel.stands).to be_within(1e-9).of(-Math.atan2(10, 200) * 180 / Math::PI)
  end

  it "gives shoulders and pelvis by the slope between their points, and the shift of their middles" do
    points = {
      "right_shoulder" => [100, 100],
      "left_shoulder" => [300, 120],
      "right_pelvis" => [120, 400],
      "left_pelvis" => [260, 400]
    }
    trunk = of("trunk", points, known: 400)
    expect(trunk.shoulders).to be_within(1e-9).of(Math.atan2(20, 200) * 180 / Math::PI)
    expect(trunk.pelvis).to eq 0
    expect(trunk.shift).to be_within(0.1).of(10 * 400 / Math.hypot(200, 20))
    expect(of("trunk", points).figures[:unit]).to eq "% of the shoulders"
  end

  it "does not change with where the picture lies, nor with how large it is" do
    generator = Random.new(3)
    200.times do
      points =
        %w[hip knee toe].each_with_index.to_h do |name, i|
          [name, [100 + generator.rand(80), (300 * i) + generator.rand(50)]]
        end
      base = of("leg", points, side: "left", known: 800)
      dx, dy, k = Array.new(2) { generator.rand(-500..500) } + [0.2 + generator.rand]
      moved = points.transform_values { |x, y| [(x * k) + dx, (y * k) + dy] }
      again = of("leg", moved, side: "left", known: 800)
      expect([again.angle, again.offset]).to match [
              be_within(1e-6).of(base.angle),
              be_within(1e-6).of(base.offset)
            ]
      mirrored = of("leg", points.transform_values { |x, y| [-x, y] }, side: "right", known: 800)
      expect(mirrored.angle).to be_within(1e-9).of(base.angle)
    end
  end

  it "names the point that is missing or is none, and refuses points that lie on one another" do
    expect { of("leg", { "hip" => [1, 2], "toe" => [3, 4] }, side: "left") }.to raise_error(
      described_class::Unknown,
      /middle of the kneecap/
    )
    [["a", 2], [nil, nil], [Float::NAN, 1], [1]].each do |bad|
      points = { "hip" => [1, 2], "knee" => bad, "toe" => [3, 4] }
      expect { of("leg", points, side: "left") }.to raise_error(described_class::Unknown, /kneecap/)
    end
    same = { "hip" => [1, 2], "knee" => [1, 3], "toe" => [1, 2] }
    expect { of("leg", same, side: "left") }.to raise_error(
      described_class::Unknown,
      /on one another/
    )
    expect { of("arm", {}) }.to raise_error(described_class::Unknown, /no line called/)
  end
end

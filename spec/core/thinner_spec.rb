# frozen_string_literal: true

# Straps on a leg that has become thinner.
RSpec.describe Handrail::Compression::Thinner do
  def pressure(now, share, stretch: 0.3) =
    described_class.pressure(now, stretch: stretch, share: share)

  it "presses the same on the same leg, and nothing once the stretch is used up" do
    expect(pressure(40, 0)).to eq 40
    # s = p (1 + s): the girth is the unstretched strap's length
    expect(pressure(40, 0.3 / 1.3)).to be_within(1e-9).of(0)
    expect(pressure(40, 0.5)).to eq 0
  end

  it "is Laplace on the smaller girth with the smaller pull" do
    girth = 400.0
    length = 400.0 / 1.3
    pull = ->(round) { (round - length) / length }
    [0.01, 0.03, 0.05].each do |share|
      expected = 40 * (pull[girth * (1 - share)] / pull[girth]) * (girth / (girth * (1 - share)))
      expect(pressure(40, share)).to be_within(1e-9).of(expected)
    end
  end

  it "falls with every percent, the faster the less a strap is stretched" do
    falls = (0..5).map { |percent| pressure(40, percent / 100.0) }
    expect(falls).to eq falls.sort.reverse
    expect(falls.uniq.size).to eq 6
    expect(pressure(40, 0.03, stretch: 0.1)).to be < pressure(40, 0.03, stretch: 0.6)
  end
end

# frozen_string_literal: true

RSpec.describe Handrail::Measuring do
  def repeats(*texts, step: "1 mm")
    Handrail::Measuring::Repeats.new(texts.map { |t| length(t) }, resolution: length(step))
  end

  describe Handrail::Measuring::Repeats do
    it "uses one as it is, the mean of two, the median of three or more" do
      expect(repeats("37.2 cm").mm).to eq 372
      expect(repeats("37.2 cm", "37.0 cm").mm).to eq 371
      expect(repeats("37.2 cm", "40 cm", "37.0 cm").mm).to eq 372
      expect(repeats("37.2 cm", "40 cm", "37.0 cm", "37.3 cm").mm).to eq Rational(3725, 10)
    end

    it "wants a third when two differ by more than 1 % or the resolution, whichever is larger" do
      expect(repeats("40 cm", "40.4 cm")).to be_agree
      expect(repeats("40 cm", "40.5 cm")).not_to be_agree
      expect(repeats("40 cm", "40.5 cm", step: "0.5 cm")).to be_agree
      expect(repeats("40 cm", "45 cm", "40 cm")).to be_agree
      expect(repeats("40 cm", "41 cm").wish).to eq :third
    end

    it "doubts by 1 % over the root of n, never less than the resolution over the root of 12" do
      expect(repeats("40 cm").sd).to be_within(1e-12).of(4.0)
      expect(repeats("40 cm", "40 cm", "40 cm", "40 cm").sd).to be_within(1e-12).of(2.0)
      expect(repeats("5 cm", step: "1/2 in").sd).to be_within(1e-12).of(12.7 / Math.sqrt(12))
    end
  end

  describe Handrail::Measuring::Plausibility do
    def judge(text, unit)
      described_class.judge(
        Handrail::Anatomy::Vocabulary.default[CoreHelpers::CALF],
        length(text),
        typed_unit: unit
      )
    end

    it "lets a likely reading pass" do
      expect(judge("37.2 cm", "cm")).to be_plausible
      expect(judge("14 3/8 in", "in")).to be_plausible
    end

    it "asks for the other unit when the figure fits there" do
      expect(judge("14 cm", "cm")).to have_attributes(meant: length("14 in"), unit: "in")
      expect(judge("14 cm", "cm").finding).to include(
        "code" => "unlikely",
        "read" => "14 cm",
        "meant" => "14 in"
      )
      expect(judge("37 in", "in").finding).to include("meant" => "37 cm")
      expect(judge("372 cm", "cm").finding).to include("meant" => "372 mm")
    end

    it "asks without a guess when no unit helps" do
      expect(judge("3 cm", "cm")).to have_attributes(meant: nil, plausible?: false)
      expect(judge("3 cm", "cm").finding).to include(
        "meant" => nil,
        "site" => CoreHelpers::CALF,
        "unit" => "cm"
      )
    end
  end

  describe Handrail::Measuring::Normal do
    it "agrees with the gem distribution" do
      require "distribution"
      (-60..60).each do |tenths|
        expect(described_class.phi(tenths / 10.0)).to be_within(1e-9).of(
          Distribution::Normal.cdf(tenths / 10.0)
        )
      end
    end

    it "keeps its digits in both tails" do
      upper = described_class.between(10, 11, mean: 0, sd: 1)
      expect(upper).to be_positive
      expect(upper).to be_within(upper * 1e-9).of(described_class.between(-11, -10, mean: 0, sd: 1))
    end
  end
end

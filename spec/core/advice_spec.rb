# frozen_string_literal: true

RSpec.describe "What is said beside a size" do
  let(:site) { Handrail::Anatomy::Vocabulary.default[CoreHelpers::CALF] }
  let(:sizes) { { "S" => { CoreHelpers::CALF => 320..354 }, "M" => { CoreHelpers::CALF => 355..375 }, "L" => { CoreHelpers::CALF => 376..410 } } }

  def matched(text) = chart(sizes).match([reading(text)])

  describe Handrail::Measuring::LevelDoubt do
    # a cone that loses 0.8 mm of girth for each mm down
    let(:cone) { Handrail::Anatomy::Profile.new([[0, 140], [285, 368], [435, 488]]) }

    def doubt(text) = described_class.new(cone, site, Handrail::Measuring::Repeats.new([length(text)], resolution: length("1 mm")))

    it "is exact on a cone" do
      expect([doubt("36.8 cm").lower, doubt("36.8 cm").higher]).to match [be_within(1e-6).of(-8), be_within(1e-6).of(8)]
    end

    it "names the size that a misread girth would give" do
      part = matched("36.9 cm").parts.first.part
      expect(doubt("36.9 cm").sentence(part)).to eq "1 cm higher on this leg reads 8 mm more, and that would be L. Find the mark again before you read."
      expect(doubt("36.5 cm").sentence(part)).to match(/8 mm (more|less)\.\z/)
    end

    it "says nothing where a centimetre makes no difference" do
      flat = Handrail::Anatomy::Profile.new([[0, 360], [435, 362]])
      value = Handrail::Measuring::Repeats.new([length("36 cm")], resolution: length("1 mm"))
      expect(described_class.new(flat, site, value).sentence(matched("36 cm").parts.first.part)).to be_nil
    end
  end

  describe Handrail::Sizing::Neighbours do
    it "says what the next sizes would do, and leaves out those far away" do
      expect(described_class.sentences(matched("37 cm").parts.first)).to eq ["S ends at 35.4 cm: 16 mm too small, it would bind.",
                                                                             "L begins at 37.6 cm: 6 mm too large, it would sit loose and may slip."]
      expect(described_class.sentences(matched("33 cm").parts.first)).to be_empty
      expect(described_class.sentences(matched("50 cm").parts.first)).to be_empty
    end
  end

  describe Handrail::Sizing::Reason do
    it "speaks of every verdict" do
      { "31 cm" => /10 mm under the smallest band.*No size of this chart serves/, "45 cm" => /40 mm over the largest band/,
        "37.55 cm" => /lies in no band: it is between M and L.*takes the larger size: L/, "36.5 cm" => /lies in M \(35.5 to 37.5 cm\)/ }.each do |text, said|
        expect(matched(text).reason).to match(said)
      end
    end

    it "speaks in the chart's own unit" do
      rows = [Handrail::Sizing::Chart::Row[part: "", size: "M", site: "calf", min: length("14 in").mm, max: length("15 1/4 in").mm, unit: "in"]]
      expect(Handrail::Sizing::Chart.build(rows).match([reading("14 3/8 in",
                                                                site: "calf")]).reason).to include("Calf 14 3/8 in lies in M (14 to 15 1/4 in)")
    end
  end

  describe Handrail::Quantity::Day do
    { "14 Mar 1961" => [1961, 3, 14], "14.3.1961" => [1961, 3, 14], "1961-03-14" => [1961, 3, 14], "14/3/1961" => [1961, 3, 14],
      "3/14/1961" => [1961, 3, 14], "14 March 1961" => [1961, 3, 14], "4/4/1961" => [1961, 4, 4] }.each do |text, day|
      it("reads #{text}") { expect(described_class.read(text)).to eq Date.new(*day) }
    end

    ["", "yesterday", "31 Feb 1961", "3/4/1961", "14 Mxr 1961", "1961"].each do |text|
      it("refuses #{text.inspect} with a form that is accepted") {
        expect do
          described_class.read(text)
        end.to raise_error(described_class::Unreadable, /\d 19|Apr|Mar/)
      }
    end
  end
end

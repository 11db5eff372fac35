# frozen_string_literal: true

require "web_helper"

# What core finds as figures, in a fitter's words.
RSpec.describe Handrail::Web::Wording do
  def repeats(mm)
    Handrail::Measuring::Repeats.new(
      [Handrail::Quantity::Length.mm(mm)],
      resolution: Handrail::Quantity::Length.mm(1)
    )
  end

  describe "a change of girth" do
    def said(before, now, tape: "cm 1 mm")
      change = Handrail::Followup::ChangeOfGirth.new("calf_widest", repeats(before), repeats(now))
      described_class.change_of_girth(change, Handrail::Quantity::Tape[tape])
    end

    it "is the same, within the error, or more than it, in the unit of the tape" do
      expect(said(350, 350)).to eq "The same as before."
      expect(said(350, 355)).to eq "5 mm more: no more than measuring error (10 mm)."
      expect(said(350, 338)).to eq "12 mm less than before: more than measuring error (10 mm)."
      expect(said(350, 338, tape: "in 1/8")).to start_with "1/2 in less than before"
    end
  end
end

# frozen_string_literal: true

RSpec.describe Handrail::Fitting do
  let(:config) { family.config({ "side" => "left", "compartment" => "medial" }, { "type" => "single_upright" }) }
  let(:checks) { family.checks(config) }
  let(:good) { checks.map.with_index(1) { |check, seq| Handrail::Fitting::Result[check: check.key, outcome: "good", seq: seq] } }

  def checklist(results, changes: [], steps: [])
    Handrail::Fitting::Checklist.new(checks, results: results, changes: changes, steps: steps)
  end

  def change(remedy, seq, problem: "slides_down")
    found = family.problem(problem).remedies.find { |r| r.key == remedy }
    Handrail::Fitting::Change[problem: problem, remedy: remedy, opens: found.opens, goes_to: found.goes_to, seq: seq, title: found.title]
  end

  def progress(list = checklist(good), **facts)
    Handrail::Fitting::Progress[identity: true, cautions_asked: true, stops: [], unread: [], doubts: [], choice: "M", issued: true, checklist: list,
                                teach_backs: [teach_back], tasks: family.tasks, who: "wearer", **facts]
  end

  def teach_back(unaided: true, shown: family.tasks.map(&:key), mistakes: [], seq: 90)
    Handrail::Fitting::TeachBack[who: "wearer", unaided: unaided, shown: shown, mistakes: mistakes, seq: seq]
  end

  describe Handrail::Fitting::Checklist do
    it "starts with everything not done and asks for the final check last" do
      list = checklist([])
      expect(list.items.map(&:state).uniq).to eq [:not_done]
      expect(list.next.check.key).to eq "hinge_height"
      expect(checklist(good.reject { |r| %w[final_look relief].include?(r.check) }).next.check.key).to eq "relief"
    end

    it "opens again exactly what a remedy says, and the final check with it" do
      list = checklist(good, changes: [change("reseat_calf_strap", 50)])
      expect(list.open_again.map { |i| i.check.key }).to contain_exactly("calf_strap_high", "hinge_height", "slip", "no_pinch", "final_look")
      expect(list.blocks.map(&:sentence).join).to include("before the last change (Seat strap 1 higher")
    end

    it "closes them one by one with later results" do
      later = Handrail::Fitting::Result[check: "slip", outcome: "bad", seq: 51]
      expect(checklist(good + [later], changes: [change("add_sleeve", 50)])["slip"].state).to eq :stop
      expect(checklist(good + [later.with(outcome: "good")], changes: [change("add_sleeve", 50)])["slip"].state).to eq :good
    end

    it "has the hinge looked at again after every strap" do
      strap = Handrail::Fitting::Change[opens: family.step("strap_thigh").opens, seq: 30, title: "Thigh strap"]
      expect(checklist(good, steps: [strap]).open_again.map { |i| i.check.key }).to eq ["hinge_height"]
    end
  end

  describe "numeric criteria" do
    it "passes a hinge within 5 mm, a slip under 10 mm" do
      expect(family.check("hinge_height")).to have_attributes(criterion: "within 5 mm", final: nil)
      expect([5, Rational(51, 10)].map { |n| family.check("hinge_height").good?(mm(n)) }).to eq [true, false]
      expect([Rational(99, 10), 10].map { |n| family.check("slip").good?(mm(n)) }).to eq [true, false]
    end
  end

  describe Handrail::Fitting::Applying do
    let(:steps) { family.steps(config) }

    it "enforces the first strap with its reason, and only that one" do
      applying = described_class.new(steps, done: %w[open_all])
      expect(applying.refusal(family.step("strap_thigh"))).to match(/calf strap goes first/i)
      expect(applying.refusal(family.step("strap_calf"))).to be_nil
      expect(described_class.new(steps, done: %w[strap_calf]).refusal(family.step("strap_lower_thigh"))).to be_nil
    end

    it "notes a swap of the others" do
      expect(described_class.new(steps,
                                 done: %w[strap_calf]).swap_note(family.step("strap_shin"))).to eq "Lower shin strap: take up the slack before Thigh strap"
    end
  end

  describe Handrail::Fitting::Advice do
    it "offers remedies in order, the ones tried set apart, the prescriber when the others are used up" do
      offers = ->(*changes) {
        described_class.new(family.problem("no_relief"), changes: changes, config: config).offers.map do |o|
          [o.remedy.key, o.state]
        end
      }
      expect(offers[]).to eq [["more_correction", :next], ["to_prescriber", :later]]
      expect(offers[change("more_correction", 5, problem: "no_relief")]).to eq [["more_correction", :tried], ["to_prescriber", :next]]
    end

    it "leads from a failed check to its problem" do
      expect(described_class.problems_for(family, "slip").map(&:key)).to eq ["slides_down"]
    end
  end

  describe Handrail::Fitting::Progress do
    it "lets a whole and faultless fitting be handed over" do
      expect(progress.blocks(:hand_over)).to be_empty
      expect(progress.present).to eq :hand_over
    end

    it "goes no further than the order while a stop sign stands" do
      expect(progress(stops: ["Cold toes"]).blocks(:measure).map(&:sentence)).to eq ["Cold toes: do not fit, refer to the prescriber."]
      expect(progress(identity: false).present).to eq :order
    end

    it "holds back a hand-over with a failed check, an old final check, or no unaided teach-back" do
      bad = Handrail::Fitting::Result[check: "slip", outcome: "bad", seq: 60]
      expect(progress(checklist(good + [bad])).blocks(:hand_over).map(&:key)).to eq ["failed"]
      expect(progress(checklist(good, changes: [change("wash_lotion", 60)])).blocks(:hand_over).map(&:key)).to eq %w[look_again look_again]
      expect(progress(teach_backs: []).blocks(:hand_over).map(&:key)).to eq ["no_teach_back"]
      expect(progress(teach_backs: [teach_back, teach_back(unaided: false, seq: 91)]).blocks(:hand_over).map(&:key)).to eq ["no_teach_back"]
      expect(progress(teach_backs: [teach_back(shown: ["takes_off"])]).blocks(:hand_over)).not_to be_empty
      expect(progress(teach_backs: [teach_back(mistakes: ["too_low"])]).blocks(:hand_over)).not_to be_empty
    end

    it "gives way to a senior's word" do
      override = Handrail::Fitting::Override[reason: "carer away until Monday", by: "senior"]
      expect(progress(teach_backs: [], override: override).blocks(:hand_over)).to be_empty
    end

    it "stands at the stage whose work is not done" do
      expect(progress(unread: ["Calf"]).present).to eq :measure
      expect(progress(choice: nil).present).to eq :size
      expect(progress(checklist([])).present).to eq :fit
      expect(progress(handed_over: true).present).to eq :recheck
    end
  end
end

# frozen_string_literal: true

RSpec.describe Handrail::Fitting do
  let(:config) do
    family.config({ "side" => "left", "compartment" => "medial" }, { "type" => "single_upright" })
  end
  let(:checks) { family.checks(config).map { |check| [check, ""] } }
  let(:good) do
    checks
      .map
      .with_index(1) do |(check, _), seq|
        Handrail::Fitting::Result[check: check.key, outcome: "good", seq: seq]
      end
  end

  def checklist(results, changes: [], steps: [])
    Handrail::Fitting::Checklist.new(checks, results: results, changes: changes, steps: steps)
  end

  def change(remedy, seq, problem: "slides_down")
    found = family.problem(problem).remedies.find { |r| r.key == remedy }
    Handrail::Fitting::Change[
      problem: problem,
      remedy: remedy,
      opens: found.opens,
      goes_to: found.goes_to,
      seq: seq,
      title: found.title
    ]
  end

  describe Handrail::Fitting::Checklist do
    it "starts with everything not done and asks for the final check last" do
      list = checklist([])
      expect(list.items.map(&:state).uniq).to eq [:not_done]
      expect(list.next.check.key).to eq checks.first.first.key
      unseen = %w[final_look relief]
      expect(checklist(good.reject { |r| unseen.include?(r.check) }).next.check.key).to eq "relief"
    end

    it "opens again exactly what a remedy says, and the final check with it" do
      list = checklist(good, changes: [change("reseat_calf_strap", 50)])
      opened = %w[calf_strap_high hinge_height slip no_pinch no_numbness foot_lifts final_look]
      expect(list.open_again.map { |i| i.check.key }).to match_array opened
      expect(list.open_again.map { |i| i.opened_by.title }.uniq).to eq [
           "Seat strap 1 higher, above the calf bulge"
         ]
    end

    it "closes them one by one with later results" do
      later = Handrail::Fitting::Result[check: "slip", outcome: "bad", seq: 51]
      expect(
        checklist(good + [later], changes: [change("add_sleeve", 50)])["slip"].state
      ).to eq :stop
      mended = later.with(outcome: "good")
      expect(
        checklist(good + [mended], changes: [change("add_sleeve", 50)])["slip"].state
      ).to eq :good
    end

    it "has the hinge looked at again after every strap" do
      strap =
        Handrail::Fitting::Change[
          opens: family.step("strap_thigh").opens,
          seq: 80,
          title: "Thigh strap"
        ]
      expect(checklist(good, steps: [strap]).open_again.map { |i| i.check.key }).to eq %w[
           hinge_height
           finger_test
           no_numbness
           foot_lifts
         ]
    end

    it "keeps the places of a check apart" do
      check = family.check("slip")
      results =
        [%w[calf good], %w[thigh bad]].map
          .with_index(1) do |(place, outcome), seq|
            Handrail::Fitting::Result[check: "slip", place: place, outcome: outcome, seq: seq]
          end
      list =
        described_class.new([[check, "calf"], [check, "thigh"], [check, "shin"]], results: results)
      expect(list.items.map(&:state)).to eq %i[good stop not_done]
      expect(list["slip:thigh"].place).to eq "thigh"
    end
  end

  describe Handrail::Fitting::Criterion do
    def read(**raw) = described_class.read(raw.transform_keys(&:to_s))

    it "passes a hinge within 5 mm, a slip under 10 mm" do
      expect([5, Rational(51, 10)].map { |n| family.check("hinge_height").good?(n) }).to eq [
           true,
           false
         ]
      expect([Rational(99, 10), 10].map { |n| family.check("slip").good?(n) }).to eq [true, false]
    end

    it "reads and prints every kind in its own unit" do
      {
        "length" => ["1/4 in", Rational(635, 100), "6.35 mm"],
        "angle" => ["2,5°", Rational(5, 2), "2.5°"],
        "pressure" => ["6 kPa", Rational(6_000_000, 133_322), "45 mmHg"],
        "count" => ["2", 2, "2"],
        "score" => ["7", 7, "7 of 10"],
        "duration" => ["90 s", 90, "1.5 min"]
      }.each do |kind, (typed, value, printed)|
        criterion = read(kind: kind, at_most: "9")
        expect(criterion.parse(typed)).to eq value
        expect(criterion.print(value)).to eq printed
      end
    end

    it "holds a value between two limits" do
      pressure = read(kind: "pressure", at_least: "28 mmHg", at_most: "50 mmHg")
      expect([27, 28, 50, 51].map { |n| pressure.good?(Rational(n)) }).to eq [
           false,
           true,
           true,
           false
         ]
      expect(
        [read(kind: "count", over: "2").good?(2r), read(kind: "count", over: "2").good?(3r)]
      ).to eq [false, true]
    end

    it "refuses what is no value of its kind" do
      {
        "length" => "a lot",
        "angle" => "steep",
        "pressure" => "hard",
        "count" => "2.5",
        "score" => "11",
        "duration" => "soon"
      }.each do |kind, typed|
        expect { read(kind: kind, at_most: "1").parse(typed) }.to raise_error(
          described_class::Unreadable
        )
      end
      expect { read(kind: "mood") }.to raise_error(ArgumentError, /no kind of check/)
    end
  end

  describe Handrail::Fitting::Applying do
    let(:steps) { family.steps(config) }

    it "enforces the first strap with its reason, and only that one" do
      applying = described_class.new(steps, done: %w[open_all])
      held = applying.held_by(family.step("strap_thigh"))
      expect([held.key, held.why]).to match ["strap_calf", /calf strap goes first/i]
      expect(applying.held_by(family.step("strap_calf"))).to be_nil
      begun = described_class.new(steps, done: %w[strap_calf])
      expect(begun.held_by(family.step("strap_lower_thigh"))).to be_nil
    end

    it "notes a swap of the others" do
      skipped = described_class.new(steps, done: %w[strap_calf]).skipped(family.step("strap_shin"))
      expect(skipped.map(&:key)).to eq %w[strap_thigh]
    end

    it "lists what is still open, in order" do
      done = steps.map(&:key) - %w[strap_thigh strap_shin]
      expect(described_class.new(steps, done: done).open.map(&:key)).to eq %w[
           strap_thigh
           strap_shin
         ]
    end
  end

  describe Handrail::Fitting::Advice do
    def offers(*changes)
      problem = family.problem("no_relief")
      described_class
        .new(problem, changes: changes, config: config)
        .offers
        .map { |o| [o.remedy.key, o.state] }
    end

    it "offers remedies in order, the ones tried set apart, the prescriber when the others are used up" do
      last = %w[read_again other_size to_prescriber]
      expect(offers).to eq [["more_correction", :next], *last.map { |key| [key, :later] }]
      tried = change("more_correction", 5, problem: "no_relief")
      expect(offers(tried)).to eq [
           ["more_correction", :tried],
           ["read_again", :next],
           ["other_size", :open],
           ["to_prescriber", :open]
         ]
      again = change("read_again", 6, problem: "no_relief")
      expect(offers(tried, again).last(2)).to eq [["other_size", :next], ["to_prescriber", :open]]
    end

    it "passes over one that is at its limit, and carries what the limit is" do
      problem = family.problem("slides_down")
      advice =
        described_class.new(
          problem,
          changes: [],
          config: config,
          reached: {
            "reseat_calf_strap" => {
              used: 4,
              most: 4
            }
          }
        )
      states = advice.offers.map { |offer| [offer.remedy.key, offer.state, offer.limit] }
      expect(states.first(2)).to eq [
           ["reseat_calf_strap", :reached, { used: 4, most: 4 }],
           ["wash_lotion", :next, nil]
         ]
      expect(advice.used_up?).to be false
    end
  end
end

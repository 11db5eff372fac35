# frozen_string_literal: true

require "store_helper"

# Changing one thing: values, limits, work that goes away, what ended it, and what can not be looked
# at today.
RSpec.describe "Changing one thing", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:visit) { sized_visit(clinic, fitter) }

  def change(remedy = "reseat_calf_strap", problem: "slides_down", **more)
    run(visit, fitter, :ChangeOneThing, problem: problem, remedy: remedy, **more)
  end

  def fail_slip = look(visit, fitter, "slip", value: "22 mm")

  it "keeps what was before and after, how it was felt and where, and says it as a story" do
    fail_slip
    change(before: "60 mm", after: "80 mm", felt: "slips", x: "190.4", y: "333")
    row = record(visit).rows(:changes).last
    expect(row.slice(:before, :after, :felt, :doer)).to eq(
      before: "60 mm",
      after: "80 mm",
      felt: "slips",
      doer: "fitter"
    )
    expect(row[:spot]).to eq("x" => 190.4, "y" => 333.0)
    expect(record(visit).events.last[:said]).to end_with "60 mm to 80 mm"
  end

  it "leaves a point that is none out, and refuses a way of feeling that it does not know" do
    change(x: "NaN", y: "7")
    change(x: "9e9", y: "7")
    expect(record(visit).rows(:changes).map { |row| row[:spot] }).to eq [nil, nil]
    expect { change(felt: "itches") }.to raise_error(store::Faults)
  end

  it "does not take a remedy that is at its limit" do
    product = make_product(clinic)
    product.update(options: store.json("type" => "dial"))
    dialled = make_visit(clinic, fitter, product: product)
    ask(dialled, fitter)
    2.times { take(dialled, fitter, "36.5") }
    run(dialled, fitter, :ChooseSize, size: "M")
    run(dialled, fitter, :IssueDevice, serial: "S-9")
    up = { problem: "no_relief", remedy: "dial_up" }
    run(dialled, fitter, :ChangeOneThing, **up)
    run(dialled, fitter, :WriteSettings, settings: { "dial" => "high" })
    expect { run(dialled, fitter, :ChangeOneThing, **up) }.to raise_error(
      store::Unacceptable,
      /at its limit/
    )
    now = record(dialled)
    remedy = now.family.problem("no_relief").remedies.find { |one| one.key == "dial_up" }
    expect(now.remedies.reached(remedy)).to eq(setting: "Dials", value: "high")
  end

  it "learns what ended it at the next look, adds it up over the clinic, and proves its sums" do
    fail_slip
    change("wash_lotion")
    look(visit, fitter, "slip", value: "15 mm")
    change
    look(visit, fitter, "slip", value: "4 mm")
    expect(record(visit).what_worked("slides_down")).to eq(
      "wash_lotion" => [0, 1],
      "reseat_calf_strap" => [1, 1]
    )
    other = sized_visit(clinic, fitter)
    run(other, fitter, :ChangeOneThing, problem: "slides_down", remedy: "wash_lotion")
    look(other, fitter, "slip", value: "3 mm")
    expect(record(visit).what_worked("slides_down")["wash_lotion"]).to eq [1, 2]
    stranger = make_account(make_clinic)
    elsewhere = sized_visit(stranger.clinic, stranger)
    expect(record(elsewhere).what_worked("slides_down")).to eq({})
    expect(store::Summaries.differences(clinic)).to eq []
    store.db[:remedy_tries].where(clinic_id: clinic.id).delete
    expect(store::Summaries.differences(clinic)).not_to eq []
    store::Summaries.rebuild(clinic)
    expect(record(visit).what_worked("slides_down")["wash_lotion"]).to eq [1, 2]
  end

  it "offers the last resorts of every problem, but none of what can not wait" do
    now = record(visit)
    keys = now.family.problem("slides_down").remedies.map(&:key)
    expect(keys.last(2)).to eq %w[other_size back_to_prescriber]
    expect(now.family.problem("numb").remedies.filter_map(&:last)).to eq []
  end

  describe "a check that is not possible today" do
    let(:fitted) { fitted_visit(clinic, fitter) }

    def not_today(**more)
      look_with = { check: "slip", outcome: "not_possible", note: "can not walk yet", **more }
      run(fitted, fitter, :RecordCheck, **look_with)
    end

    it "needs a reason, and holds the hand-over like a look that was never made" do
      expect { not_today(note: nil) }.to raise_error(store::Unacceptable, /why it is not possible/)
      not_today
      teach(fitted, fitter)
      blocks = record(fitted).gates.blocks(:hand_over)
      expect(blocks.map(&:code)).to eq [:check_not_possible]
      expect(Handrail::Wording.block(blocks.first, record(fitted))).to eq(
        "“Slipped after 10 m walk” was not possible: can not walk yet."
      )
      expect { hand_over(fitted, fitter) }.to raise_error(store::Refused)
    end

    it "passes by a senior's word that names it, and blocks again once it is said anew" do
      not_today
      teach(fitted, fitter)
      run(fitted, senior, :LetPass, reason: "walks on Friday, comes back")
      expect(record(fitted).gates.blocks(:hand_over)).to eq []
      not_today(note: "still in bed")
      expect(record(fitted).gates.blocks(:hand_over).map(&:code)).to eq [:check_not_possible]
    end

    it "is taken back by a look, and a look before it does not count any more" do
      not_today
      expect(record(fitted).fit.checklist["slip"].state).to eq :not_done
      run(fitted, fitter, :RecordCheck, check: "slip", value: "3 mm")
      expect(record(fitted).fit.checklist["slip"].state).to eq :good
    end
  end

  describe "a job slip" do
    def slip(**more)
      run(
        visit,
        fitter,
        :WriteJobSlip,
        doer: "workshop",
        what: "Hinge plate bent out 3 mm",
        due_on: (clinic.today + 5).iso8601,
        **more
      )
      record(visit).fit.slips_out.last
    end

    def back(row, **more)
      run(visit, fitter, :CloseJobSlip, slip: row[:id], outcome: "back", **more)
    end

    it "carries the marks as they stand, and holds teaching and hand-over until it is back" do
      run(visit, fitter, :WriteSettings, settings: { "calf" => "60 mm" })
      finish_steps(visit, fitter)
      look_at_all(visit, fitter)
      row = slip
      expect(row[:marks]).to eq("Calf strap" => "60 mm")
      expect(row[:due_on]).to eq clinic.today + 5
      expect(record(visit).gates.blocks(:teach).map(&:code)).to eq [:slip_out]
      expect { teach(visit, fitter) }.to raise_error(store::Refused)
      back(row, note: "bent 3 mm")
      expect(record(visit).fit.slips_out).to eq []
      expect(record(visit).events.last[:said]).to include "back from the workshop"
    end

    it "opens again what it touches, and the last look, once it is back" do
      finish_steps(visit, fitter)
      look_at_all(visit, fitter)
      back(slip(problem: "slides_down", remedy: "reseat_calf_strap"))
      opened = record(visit).fit.checklist.open_again.map { |item| item.check.key }
      expect(opened).to match_array %w[
                    calf_strap_high
                    hinge_height
                    slip
                    no_pinch
                    no_numbness
                    foot_lifts
                    final_look
                  ]
      expect(record(visit).fit.fitted_at).to eq record(visit).version
    end

    it "opens everything where it belongs to no remedy" do
      look_at_all(visit, fitter)
      back(slip)
      expect(record(visit).fit.checklist.items.map(&:state).uniq).to eq [:look_again]
    end

    it "opens nothing when it is called off, and wants to know why" do
      look_at_all(visit, fitter)
      row = slip
      expect { back(row, outcome: "called_off") }.to raise_error(store::Unacceptable, /called off/)
      back(row, outcome: "called_off", note: "wearer did it at home")
      expect(record(visit).fit.checklist.good?).to be true
      expect(record(visit).fit.slips_out).to eq []
    end

    it "is closed once, by its own fitting alone, and not due in the past" do
      row = slip
      back(row)
      expect { back(row) }.to raise_error(store::Unacceptable, /closed already/)
      other = sized_visit(clinic, fitter)
      run(
        other,
        fitter,
        :WriteJobSlip,
        doer: "maker",
        what: "longer strap",
        due_on: clinic.today.iso8601
      )
      foreign = record(other).fit.slips_out.first
      expect { back(foreign) }.to raise_error(store::Unacceptable, /not of this fitting/)
      expect { slip(due_on: (clinic.today - 1).iso8601) }.to raise_error(
        store::Unacceptable,
        /passed/
      )
    end
  end
end

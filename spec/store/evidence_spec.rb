# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# What was looked at counts for what it was looked at on, and for nothing else.
RSpec.describe "Evidence rests on something", :rolled_back do
  include WholeJobs

  store = Handrail::Store

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:colleague) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:visit) { fitted_visit(clinic, fitter).tap { |made| teach(made, fitter) } }

  def codes(visit, action) = record(visit).gates.before(action).map(&:code)
  def blocks(visit) = codes(visit, :hand_over_device)
  def another(visit, who = fitter, serial: "S-2") =
    run(visit, who, :IssueDevice, serial: serial, same: "another")

  # what a page that was made now would send along
  def shown(visit, kind, **about)
    now = record(visit)
    {
      seen: now.version,
      page: SecureRandom.hex(8),
      rests_on: Handrail::Store::Basis.shown(kind, now, **about)
    }
  end

  describe "another piece" do
    it "is not handed over on what was seen on the one before: steps, checks and teach-back open again" do
      expect(blocks(visit)).to eq []
      another(visit)
      now = record(visit)
      expect(blocks(visit).uniq).to contain_exactly(:step_open, :check_changed, :teach_back_old)
      expect(now.fit.applying.done).to eq []
      expect(now.fit.checklist.items.map(&:state).uniq).to eq [:look_again]
      expect(now.fit.checklist["slip"].opened_by.cause).to eq(code: :piece)
      expect { hand_over(visit, fitter) }.to raise_error(store::Refused)
      finish_steps(visit, fitter)
      look_at_all(visit, fitter)
      teach(visit, fitter)
      expect(blocks(visit)).to eq []
    end

    it "is not the same as a number that was mistyped, which opens nothing" do
      run(visit, fitter, :IssueDevice, serial: "S-10", same: "mistyped")
      expect([blocks(visit), record(visit).sizing.device[:serial]]).to eq [[], "S-10"]
    end

    it "is not covered by a senior's word for the first one" do
      one = sized_visit(clinic, fitter)
      finish_steps(one, fitter)
      run(one, senior, :LetPass, reason: "carer comes Friday")
      expect(blocks(one)).to eq []
      another(one)
      expect(blocks(one).uniq).to include(:step_open, :check_open, :teach_back_open)
    end

    it "takes nothing of a page that shows the one before, and says what changed" do
      one = sized_visit(clinic, fitter)
      finish_steps(one, fitter)
      sent = shown(one, :check_results, side: "left", place: "", subject: "slip")
      another(one, colleague)
      expect { look(one, fitter, "slip", sent, value: "3 mm") }.to raise_error(store::Stale) { |e|
        expect(e.events.map(&:said)).to eq ["another piece, serial S-2"]
      }
      expect(record(one).rows(:check_results)).to eq []
      look(
        one,
        fitter,
        "slip",
        shown(one, :check_results, side: "left", place: "", subject: "slip"),
        value: "3 mm"
      )
      expect(record(one).fit.checklist["slip"].state).to eq :good
    end
  end

  describe "another size" do
    it "opens steps, checks and teach-back, and takes nothing of a page from before" do
      one = sized_visit(clinic, fitter)
      sent = shown(one, :steps_done, side: "left")
      run(one, colleague, :ChooseSize, size: "L", why: "swells by noon")
      run(one, colleague, :IssueDevice, serial: "S-L")
      expect { run(one, fitter, :FinishStep, sent, step: "open_all", side: "left") }.to raise_error(
        store::Stale
      )
      expect(record(one).rows(:steps_done)).to eq []
    end

    it "is asked for once the readings that the first rested on were struck out" do
      one = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
      rows = %w[36.5 40.9].map { |typed| take(one, fitter, typed) }
      confirm(one, fitter)
      advised = record(one).sizing.advice.size
      run(one, fitter, :ChooseSize, size: advised, why: "between the two")
      run(one, fitter, :IssueDevice, serial: "S-1")
      expect(codes(one, :record_check)).to eq []
      run(one, fitter, :StrikeReading, row: rows.last[:id], reason: "slipped")
      expect(record(one).sizing.advice.size).not_to eq advised
      expect(codes(one, :record_check)).to eq [:size_outdated]
    end
  end

  describe "work that came back" do
    it "opens what a page from before still shows as done: nothing of that page is taken" do
      sent = shown(visit, :check_results, side: "left", place: "", subject: "slip")
      taught = shown(visit, :teach_backs)
      due = (clinic.today + 3).iso8601
      run(visit, colleague, :WriteJobSlip, doer: "workshop", what: "rivet", due_on: due)
      slip = record(visit).fit.slips_out.first[:id]
      run(visit, colleague, :CloseJobSlip, slip: slip, outcome: "back")
      expect { look(visit, fitter, "slip", sent, value: "3 mm") }.to raise_error(store::Stale)
      levels = { who: "Wilma", unaided: "yes", shown: record(visit).tasks.map(&:key) }
      expect { run(visit, fitter, :RecordTeachBack, taught, **levels) }.to raise_error(store::Stale)
      expect(blocks(visit)).to include :check_changed
    end

    it "holds a teach-back from before a colleague's change" do
      sent = shown(visit, :teach_backs)
      run(visit, colleague, :ChangeOneThing, problem: "slides_down", remedy: "wash_lotion")
      levels = { who: "Wilma", unaided: "yes", shown: record(visit).tasks.map(&:key) }
      expect { run(visit, fitter, :RecordTeachBack, sent, **levels) }.to raise_error(store::Stale)
    end
  end

  describe "a mark" do
    it "is looked at again once it is another; writing it first changes nothing" do
      set = ->(text) do
        run(visit, fitter, :WriteSettings, side: "left", settings: { "calf" => text })
      end
      step = record(visit).family.all_steps.find { |one| one.strap == "calf" }
      touched = -> { record(visit).fit.checklist.open_again.map { |item| item.check.key } }
      set.call("40 mm")
      expect(touched.call).to eq []
      look_at_all(visit, fitter)
      set.call("60 mm")
      expect(touched.call).to match_array(
        step.opens & record(visit).fit.checks.map { |check, _| check.key }
      )
      expect(record(visit).fit.checklist[touched.call.first].opened_by.cause).to eq(code: :settings)
    end

    it "that a page does not show yet is not passed over" do
      run(visit, fitter, :WriteSettings, side: "left", settings: { "calf" => "40 mm" })
      step = record(visit).family.all_steps.find { |one| one.strap == "calf" }
      sent = shown(visit, :check_results, side: "left", place: "", subject: step.opens.first)
      run(visit, colleague, :WriteSettings, side: "left", settings: { "calf" => "60 mm" })
      expect { look(visit, fitter, step.opens.first, sent) }.to raise_error(store::Stale)
    end
  end

  describe "the wearer" do
    def rename(visit, **changes)
      wearer = record(visit).patient
      form = {
        "patient" => wearer.id,
        "seen" => wearer.version,
        "record_number" => wearer.record_number,
        "given_name" => "Wilma",
        "family_name" => "Quarrel",
        "born_on" => "14 Mar 1961"
      }
      desk(clinic, fitter).run(
        Fixtures::Commands::ChangePatient.new(form.merge(changes.transform_keys(&:to_s)))
      )
    end

    before { visit }

    it "under another name, day of birth or species is confirmed again before anything goes on" do
      { family_name: "Other", born_on: "15 Mar 1961", species: "dog" }.each do |field, value|
        store
          .db
          .transaction(rollback: :always, savepoint: true) do
            extra = field == :species ? { owner_name: "Leo" } : {}
            rename(visit, **{ field => value }, **extra)
            expect([field, blocks(visit)]).to eq [field, [:identity_changed]]
            expect { hand_over(visit, fitter) }.to raise_error(store::Refused)
            expect(store.db[:visit_summaries].where(visit_id: visit.id).get(:stage)).to eq "order"
            ask(visit, fitter)
            expect(blocks(visit)).to eq []
          end
      end
      rename(visit, phone: "77 12")
      expect(blocks(visit)).to eq []
      expect(store::Summaries.differences(clinic)).to eq []
    end

    it "of a page that shows another name is not confirmed" do
      sent = shown(visit, :safety_questions)
      rename(visit, family_name: "Other")
      expect { run(visit, fitter, :AskCautions, sent, identity: "yes") }.to raise_error(
        store::Stale
      ) { |e| expect(e.events.first.said).to include "Wilma Other" }
    end

    it "of a closed visit stays as it was confirmed" do
      hand_over(visit, fitter)
      rename(visit, family_name: "Other")
      expect(record(visit).safety.identity?).to be true
    end

    it "for practice stays nobody" do
      made = desk(clinic, fitter).run(Fixtures::Commands::MakePracticePatient.new({}))
      nobody = store::Patient[made["patient"]]
      form = {
        "patient" => nobody.id,
        "seen" => nobody.version,
        "record_number" => "R 1",
        "given_name" => "Real",
        "family_name" => "Person",
        "born_on" => "1 Jan 1950"
      }
      expect {
        desk(clinic, fitter).run(Fixtures::Commands::ChangePatient.new(form))
      }.to raise_error(store::Faults, /is nobody/)
    end
  end

  describe "a stop" do
    let(:patient) { make_patient(clinic, fitter) }
    let(:one) { make_visit(clinic, fitter, patient: patient).tap { |made| ask(made, fitter) } }
    let(:other) do
      fitted_visit(clinic, fitter, patient: patient).tap { |made| teach(made, fitter) }
    end

    it "follows the wearer into every open fitting of that part, and ends there when it is dealt with" do
      expect(blocks(other)).to eq []
      ask(one, fitter, stops: %w[limb_dead])
      expect(blocks(other)).to eq [:stop]
      expect { hand_over(other, fitter) }.to raise_error(store::Refused)
      stop = record(other).safety.stops.first
      expect([stop.from[:visit], stop.from[:title]]).to eq [one.id, record(one).title]
      # it stands on the board as well
      kept = store.db[:visit_summaries].where(visit_id: other.id)
      expect(kept.get(%i[state finding])).to eq %w[stop stop]
      expect(store::Summaries.differences(clinic)).to eq []
      act = { stop: stop.key, action: "advised", who: "Dr Spec", advice: "go on so" }
      expect { run(other, fitter, :RecordStopAction, **act) }.to raise_error(
        store::Unacceptable,
        /It was raised at/
      )
      run(one, fitter, :RecordStopAction, **act, stop: "limb_dead")
      expect(blocks(other)).to eq []
      expect(kept.get(:finding)).not_to eq "stop"
      expect(store::Summaries.differences(clinic)).to eq []
    end

    it "of one order alone holds no other" do
      signs = record(one).family.stop_signs.select { |sign| sign.holds == "order" }
      expect(signs).not_to be_empty
      ask(one, fitter, stops: [signs.first.key])
      expect([record(one).safety.stops.size, blocks(other)]).to eq [1, []]
    end

    it "on the other leg holds nothing here, for the whole of them it does" do
      right = make_visit(clinic, fitter, patient: patient, side: "right")
      expect(blocks(other)).to eq []
      run(one, fitter, :RecordSkin, x: "190", y: "333", kind: "open", side: "left")
      expect(record(right).safety.stops).to eq []
      expect(record(other).safety.stops.map(&:side)).to eq ["left"]
      ask(one, fitter, stops: %w[chest])
      expect(record(right).safety.stops.map(&:key)).to eq ["elsewhere:#{one.fitting_id}:chest"]
    end

    it "of the wearer holds what is worn elsewhere on the body too, one of a limb does not" do
      product = demo_product("lumbosacral_support")
      required = product.device_family.fields.select(&:required)
      fields = required.to_h { |field| [field.key, field.choices.to_a.first&.key || "60"] }
      back =
        make_visit(clinic, fitter, patient: patient, product: product, side: nil, fields: fields)
      ask(one, fitter, stops: %w[limb_dead])
      expect([record(one).safety.stops.size, record(back).safety.stops]).to eq [1, []]
      ask(one, fitter, stops: %w[chest limb_dead])
      expect(record(back).safety.stops.map(&:key)).to eq ["elsewhere:#{one.fitting_id}:chest"]
    end

    it "is taken back where it was tapped by mistake: at its visit, by who tapped it or a senior" do
      ask(one, fitter, stops: %w[chest])
      act = { stop: "chest", action: "mistake", advice: "meant the line above" }
      expect { run(one, colleague, :RecordStopAction, **act) }.to raise_error(
        store::Unacceptable,
        /Who tapped it/
      )
      run(one, fitter, :RecordStopAction, **act)
      expect(record(one).safety.stops).to eq []
      expect(record(one).safety.stop_actions.last).to include(action: "mistake", who: fitter.name)
    end

    it "is not left behind by ending the fitting" do
      ask(one, fitter, stops: %w[chest])
      expect { run(one, fitter, :EndFitting, why: "healed, no device") }.to raise_error(
        store::Unacceptable,
        /stop sign is open/
      )
    end
  end

  describe "a fitting that has ended" do
    it "is neither handed over nor worked at" do
      run(visit, fitter, :EndFitting, why: "another order")
      expect(codes(visit, :hand_over_device)).to eq [:ended]
      expect { hand_over(visit, fitter) }.to raise_error(store::Refused)
      expect { look(visit, fitter, "slip", value: "3 mm") }.to raise_error(store::Refused)
      expect { run(visit, fitter, :AddNote, text: "fetched by the son") }.not_to raise_error
    end
  end

  describe "a recheck that gives out something new" do
    let(:later) { recheck_to_close(clinic, fitter) }

    def resize
      take(later, fitter, "34")
      confirm(later, fitter)
      take(later, fitter, "34")
      run(later, fitter, :ChooseSize, size: "S", why: "thinner")
      run(later, fitter, :IssueDevice, serial: "S-9")
    end

    it "asks what a first fitting asks: steps, checks, teach-back, slips and a signature" do
      expect(codes(later, :close_recheck)).to eq []
      resize
      found = codes(later, :close_recheck).uniq
      expect(found).to include(
        :step_open,
        :check_open,
        :check_changed,
        :teach_back_open,
        :signature_open
      )
      expect { run(later, fitter, :CloseRecheck) }.to raise_error(store::Refused)
      finish_steps(later, fitter)
      look_at_all(later, fitter)
      teach(later, fitter)
      expect(codes(later, :close_recheck)).to eq [:signature_open]
      due = (clinic.today + 3).iso8601
      run(later, fitter, :WriteJobSlip, doer: "workshop", what: "rivet", due_on: due)
      expect(codes(later, :hand_over_device)).to include :slip_out
      run(
        later,
        fitter,
        :CloseJobSlip,
        slip: record(later).fit.slips_out.first[:id],
        outcome: "called_off",
        note: "not needed"
      )
      hand_over(later, fitter)
      now = record(later)
      expect(
        [now.closed?, now.hand_over_here[:signed_name], now.hand_over[:visit_id] == now.id]
      ).to eq [true, "Wilma Quarrel", false]
      expect(now.visits.last.number).to eq now.number + 1
    end

    it "asks it of another piece of the same size as well" do
      another(later, serial: "S-9")
      expect(codes(later, :close_recheck).uniq).to include(
        :step_open,
        :teach_back_open,
        :signature_open
      )
    end

    it "asks for no signature where nothing is given out" do
      expect { hand_over(later, fitter) }.to raise_error(store::Refused) { |e|
        expect(e.blocks.map(&:code)).to eq [:nothing_new]
      }
      run(later, fitter, :IssueDevice, serial: "S-10", same: "mistyped")
      expect(codes(later, :close_recheck)).to eq []
    end
  end

  describe "who is sent back to the prescriber" do
    it "is a stop until somebody writes what was arranged, and leaves open what was not looked at" do
      later = recheck_to_close(clinic, fitter)
      problem =
        record(later).family.problems.find do |one|
          one.remedies.any? { |remedy| remedy.goes_to == "prescriber" } && one.shows_in.any?
        end
      remedy = problem.remedies.find { |one| one.goes_to == "prescriber" }
      check = record(later).family.check(problem.shows_in.first)
      look(
        later,
        fitter,
        check.key,
        outcome: check.measured? ? nil : "bad",
        value: check.measured? ? "90 mm" : nil
      )
      run(later, fitter, :ChangeOneThing, problem: problem.key, remedy: remedy.key)
      expect(codes(later, :close_recheck)).to include :stop
      run(
        later,
        fitter,
        :RecordStopAction,
        stop: "sent:#{problem.key}",
        action: "referred",
        who: "Dr Spec",
        advice: "seen tomorrow"
      )
      open = record(later).gates.before(:close_recheck)
      expect(open.map(&:subject)).not_to include check.key
      # the other checks are looked at all the same
      expect(open.map(&:code)).to include(:check_open).or include(:check_changed)
    end
  end

  describe "a check that failed" do
    def answer(outcome, check: "no_pinch", **said) =
      run(visit, fitter, :RecordCheck, check: check, outcome: outcome, **said)

    it "is no longer so by a yes alone: something was changed, or it is said what was misread" do
      answer("bad")
      expect { answer("good") }.to raise_error(store::Unacceptable, /nothing was changed since/)
      expect(blocks(visit)).to include(:check_failed)
      answer("good", note: "tapped the wrong one")
      expect(blocks(visit)).not_to include(:check_failed)
      expect(record(visit).rows(:check_results).last).to include(note: "tapped the wrong one")
    end

    it "is good again by a yes once its remedy was made, or another piece is in hand" do
      answer("bad")
      run(visit, fitter, :ChangeOneThing, problem: "pinches", remedy: "lower_popliteal_pad")
      expect { answer("good") }.not_to raise_error
      answer("bad")
      another(visit)
      expect { answer("good") }.not_to raise_error
    end

    it "is good by a value that was measured anew, which says itself what was seen" do
      answer(nil, check: "slip", value: "40 mm")
      expect(blocks(visit)).to include(:check_failed)
      answer(nil, check: "slip", value: "2 mm")
      expect(blocks(visit)).not_to include(:check_failed)
    end
  end
end

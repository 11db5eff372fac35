# frozen_string_literal: true

require "store_helper"

RSpec.describe "A visit, written and read", :rolled_back do
  store = Handrail::Store

  let(:clinic) { make_clinic }
  let(:account) { make_account(clinic) }
  let(:colleague) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:visit) { make_visit(clinic, account).tap { |made| ask(made, account) } }

  def blocked(*codes)
    raise_error(Handrail::Store::Refused) { |e| expect(e.blocks.map(&:code).uniq).to eq codes }
  end

  describe "readings" do
    it "keeps an entry that comes twice once" do
      key = SecureRandom.uuid
      rows = Array.new(2) { take(visit, account, "36.5", { entry_key: key }) }
      expect(rows.map { |row| row[:id] }.uniq.size).to eq 1
      expect(record(visit).version).to eq 2
    end

    it "keeps the exact value, the text as typed, and the tape it was read from" do
      row = take(visit, account, "14 3/8 in")
      expect(row).to include(
        typed: "14 3/8 in",
        unit: "in",
        tape: "in 1/8",
        value_mm: BigDecimal("365.125"),
        question: nil
      )
    end

    it "uses no reading while its question is open, and puts a wrong unit right without losing the first" do
      row = take(visit, account, "14 3/8", unit: "cm")
      expect(record(visit).sizing.match.verdict).to eq :unusable
      expect(Handrail::Wording.question(row[:question].to_h)).to match(
        %r{Was it 14( 3/8|\.38) in\?}
      )
      run(visit, account, :AnswerReading, row: row[:id], answer: "other")
      expect(record(visit).sizing.match.size).to eq "M"
      kept = record(visit).rows(:readings).map { |r| [r[:unit], r[:strike_reason]] }
      expect(kept).to eq [["cm", "typed in cm, meant in"], ["in", nil]]
    end

    it "adds no repeat that was never taken when a question is answered twice" do
      row = take(visit, account, "14 3/8", unit: "cm")
      run(visit, account, :AnswerReading, row: row[:id], answer: "other")
      expect { run(visit, account, :AnswerReading, row: row[:id], answer: "other") }.to raise_error(
        store::Unacceptable,
        /struck out already/
      )
      expect(record(visit).repeats(CoreHelpers::CALF, "left").count).to eq 1
    end

    it "strikes out with a reason only, once, and never uses the reading again" do
      row = take(visit, account, "36.5")
      expect { run(visit, account, :StrikeReading, row: row[:id], reason: " ") }.to raise_error(
        /Say why/
      )
      run(visit, account, :StrikeReading, row: row[:id], reason: "tape slipped")
      expect {
        run(visit, colleague, :StrikeReading, row: row[:id], reason: "mine")
      }.to raise_error(store::Unacceptable, /struck out already/)
      expect(record(visit).repeats(CoreHelpers::CALF, "left")).to be_nil
      expect(
        record(visit).rows(:readings).map { |r| r.values_at(:strike_reason, :struck_by) }
      ).to eq [["tape slipped", account.id]]
    end

    it "refuses what can not be read, and writes nothing" do
      ["", "wide", "16 to 17", "0", "-4", "3" * 41].each do |typed|
        expect { take(visit, account, typed) }.to raise_error(store::Unacceptable)
      end
      expect { take(visit, account, "36", side: "upper") }.to raise_error(/left or right/)
      expect { take(visit, account, "36", posture: "flying") }.to raise_error(/Choose one of/)
      expect { take(visit, account, "36", tension: "slack") }.to raise_error(/Choose one of/)
      expect(record(visit).version).to eq 1
    end

    it "takes none before identity and cautions, and none under a stop sign" do
      expect { take(make_visit(clinic, account), account, "36.5") }.to blocked(
        :identity_open,
        :cautions_open
      )
      ask(visit, account, stops: %w[chest])
      expect { take(visit, account, "36.5") }.to blocked(:stop)
    end

    it "keeps another posture beside, and never averages the two" do
      take(visit, account, "36.5")
      take(visit, account, "38.5", posture: "standing")
      calf = record(visit).needs.find { |item| item.site.key == CoreHelpers::CALF && !item.other }
      expect([record(visit).repeats_of(calf).mm, record(visit).readings_of(calf).size]).to eq [
           365,
           2
         ]
    end
  end

  describe "two people at once" do
    it "stops the second saver on the same thing, says what changed, and lets the rest pass" do
      seen = record(visit).version
      take(visit, colleague, "36.5", { seen: seen, page: "b" * 16 })
      mine = { seen: seen, page: "a" * 16 }
      expect { take(visit, account, "36.9", mine) }.to raise_error(store::Stale) { |e|
        expect(e.events.map(&:said)).to eq ["left calf, 15 cm below: 36.5 cm"]
        expect(e.visit.usable_readings.size).to eq 1
      }
      expect { take(visit, account, "38", mine, site: "knee_mid_patella") }.to change {
        record(visit).version
      }.by(1)
    end

    it "is not surprised by what the same page wrote" do
      mine = { seen: 1, page: "a" * 16 }
      2.times { take(visit, account, "36.5", mine.dup) }
      expect(record(visit).usable_readings.size).to eq 2
    end

    it "stops a size chosen on readings that have changed" do
      take(visit, account, "36.5")
      seen = record(visit).version
      take(visit, colleague, "39.5")
      expect { run(visit, account, :ChooseSize, { seen: seen }, size: "M") }.to raise_error(
        store::Stale
      )
    end

    it "keeps both of two notes" do
      seen = record(visit).version
      run(visit, account, :AddNote, { seen: seen, page: "a" * 16 }, text: "one")
      run(visit, colleague, :AddNote, { seen: seen, page: "b" * 16 }, text: "two")
      expect(record(visit).notes.map { |row| row[:text] }).to eq %w[one two]
    end
  end

  describe "sizes" do
    before { take(visit, account, "36.5") }

    it "keeps what was advised, on which chart, and why another was taken" do
      expect { run(visit, account, :ChooseSize, size: "L") }.to raise_error(
        store::Unacceptable,
        /Say why you take L/
      )
      run(visit, account, :ChooseSize, size: "L", why: "swells by noon")
      expect(record(visit).sizing.choice).to include(
        advised: "M",
        chosen: "L",
        why_different: "swells by noon",
        chart_revision_id: record(visit).revision.id
      )
    end

    it "refuses a size that the chart does not have, and a size before the order's questions" do
      expect { run(visit, account, :ChooseSize, size: "XXL") }.to raise_error(/no size “XXL”/)
      fresh = make_visit(clinic, account)
      expect { run(fresh, account, :ChooseSize, size: "M") }.to blocked(
        :identity_open,
        :cautions_open,
        :unread
      )
    end

    it "ties size, device and readings: another size wants its own device, later readings the choice again" do
      run(visit, account, :ChooseSize, size: "M")
      run(visit, account, :IssueDevice, serial: "S-M")
      run(visit, account, :ChooseSize, size: "L", why: "swells by noon")
      expect { run(visit, account, :FinishStep, step: "open_all") }.to blocked(:other_device)
      run(visit, account, :IssueDevice, serial: "S-L")
      expect(record(visit).sizing.device).to include(serial: "S-L", size: "L")
      expect { 4.times { take(visit, account, "34") } }.to change {
        record(visit).gates.blocks(:fit).map(&:code)
      }.from([]).to([:size_outdated])
    end

    it "asks whether another number is the same piece or another one, and remembers the first" do
      run(visit, account, :ChooseSize, size: "M")
      run(visit, account, :IssueDevice, serial: "S-1")
      expect { run(visit, account, :IssueDevice, serial: "S-2") }.to raise_error(
        store::Unacceptable,
        /S-1 is written down. Was that number mistyped, or is this another piece/
      )
      first = record(visit).sizing.piece("left")
      run(visit, account, :IssueDevice, serial: "S-2", same: "mistyped")
      expect(record(visit).sizing.piece("left")).to eq first
      run(visit, account, :IssueDevice, serial: "S-3", same: "another")
      expect(record(visit).sizing.piece("left")).to be > first
      kept = record(visit).rows(:issued_devices).map { |row| row.values_at(:serial, :ended_why) }
      expect(kept).to eq [%w[S-1 written_anew], %w[S-2 replaced], ["S-3", nil]]
    end
  end

  describe "stop signs" do
    it "hold everything until someone writes what was done" do
      take(visit, account, "36.5")
      ask(visit, account, stops: %w[calf_swelling])
      expect { run(visit, account, :ChooseSize, size: "M") }.to blocked(:stop)
      expect do
        run(
          visit,
          account,
          :RecordStopAction,
          stop: "calf_swelling",
          action: "referred",
          who: "",
          advice: "ok"
        )
      end.to raise_error(store::Faults) { |e| expect(e.fields.keys).to eq %w[who advice] }
      run(
        visit,
        account,
        :RecordStopAction,
        stop: "calf_swelling",
        action: "advised",
        who: "Dr Weatherby, 10:20",
        advice: "ultrasound clear, go on"
      )
      expect { run(visit, account, :ChooseSize, size: "M") }.to(
        change { record(visit).sizing.choice }
      )
    end

    it "stay open when the questions are asked again without them, and open again when seen again" do
      ask(visit, account, stops: %w[chest])
      ask(visit, account)
      expect(record(visit).safety.stops.map { |stop| [stop.key, stop.urgency] }).to eq [
           ["chest", :emergency]
         ]
      done = { stop: "chest", action: "emergency", who: "ambulance", advice: "taken to hospital" }
      run(visit, account, :RecordStopAction, **done)
      expect(record(visit).safety.stops).to be_empty
      ask(visit, account, stops: %w[chest])
      expect(record(visit).safety.stops.map(&:key)).to eq ["chest"]
      expect { run(visit, account, :RecordStopAction, **done, stop: "cold_toes") }.to raise_error(
        /not open/
      )
    end

    it "come with how urgent they are, the most urgent first" do
      ask(visit, account, stops: %w[mismatch calf_swelling chest])
      expect(record(visit).safety.stops.map(&:urgency)).to eq %i[emergency today prescriber]
    end
  end

  describe "from fitting to recheck" do
    let(:visit) { fitted_visit(clinic, account) }
    let(:later) do
      teach(visit, account)
      hand_over(visit, account)
      record(visit).visits.last
    end

    def answer_all(visit)
      record(visit).asks_open.each do |one, side|
        run(
          visit,
          account,
          :AnswerRecheck,
          field: one.key,
          answer: one.choices.first.key,
          side: side
        )
      end
    end

    it "enforces the first strap and notes a swap of the others" do
      fresh = sized_visit(clinic, account)
      step = ->(key) { run(fresh, account, :FinishStep, step: key) }
      expect { step["strap_thigh"] }.to raise_error(/calf strap goes first/)
      step["strap_calf"]
      step["strap_lower_thigh"]
      expect(record(fresh).events.last[:said]).to include(
        "Lower thigh strap (Lower thigh strap before Thigh strap"
      )
    end

    it "judges a measured check by its criterion" do
      look(visit, account, "slip", value: "16 mm")
      expect(record(visit).fit.checklist["slip"].state).to eq :stop
      look(visit, account, "slip", value: "1/4 in")
      expect(record(visit).fit.checklist["slip"].state).to eq :good
      expect { look(visit, account, "slip", value: "a lot") }.to raise_error(
        store::Unacceptable,
        /How far down/
      )
    end

    it "hands over only after steps, checks, the final look and an unaided teach-back, and plans the first recheck" do
      expect { hand_over(visit, account) }.to blocked(:teach_back_open)
      teach(visit, account)
      run(visit, account, :ChangeOneThing, problem: "slides_down", remedy: "wash_lotion")
      expect { hand_over(visit, account) }.to blocked(:check_changed, :teach_back_old)
      look(visit, account, "slip", value: "3 mm")
      look(visit, account, "final_look")
      expect { hand_over(visit, account) }.to blocked(:teach_back_old)
      teach(visit, account)
      hand_over(visit, account)
      expect(record(visit)).to be_closed
      expect(record(visit).visits.last).to have_attributes(
        purpose: "recheck",
        due_from: clinic.today + 7,
        due_to: clinic.today + 14
      )
      expect { take(visit, account, "36.5") }.to raise_error(store::Closed)
    end

    it "wants every step ticked" do
      fresh = sized_visit(clinic, account)
      look_at_all(fresh, account)
      teach(fresh, account)
      expect { hand_over(fresh, account) }.to blocked(:step_open)
    end

    it "lets a senior's word pass what it names, and nothing that comes later" do
      word = ->(who, reason) { run(visit, who, :LetPass, reason: reason) }
      expect { word[account, "carer comes Friday"] }.to raise_error(
        store::NotAllowed,
        /Only a senior/
      )
      expect { word[senior, "ok"] }.to raise_error(store::Unacceptable, /few words/)
      expect {
        run(make_visit(clinic, account), senior, :LetPass, reason: "carer comes Friday")
      }.to blocked(:identity_open, :cautions_open, :unread, :no_size)
      word[senior, "carer comes Friday"]
      expect(record(visit).overrides.last[:blocks].map { |block| block["code"] }).to eq %w[
           teach_back_open
         ]
      look(visit, account, "slip", value: "16 mm")
      expect { hand_over(visit, account) }.to blocked(:check_failed)
      look(visit, account, "slip", value: "3 mm")
      ask(visit, account, stops: %w[chest])
      expect { hand_over(visit, account) }.to blocked(:stop)
      run(
        visit,
        account,
        :RecordStopAction,
        stop: "chest",
        action: "advised",
        who: "Dr Heart",
        advice: "old and harmless"
      )
      hand_over(visit, account)
      expect(record(visit)).to be_closed
    end

    it "corrects a closed visit with a new row that names the old one, once" do
      later
      row = record(visit).rows(:readings).first
      correct = ->(why, value = "37") do
        run(visit, account, :CorrectReading, corrects: row[:id], value: value, why: why)
      end
      expect { correct[""] }.to raise_error(store::Unacceptable, /Say why/)
      expect { correct["read the wrong line", "370"] }.to raise_error(
        store::Unacceptable,
        /not what a body gives/
      )
      correct["read the wrong line"]
      expect(record(visit).rows(:readings).last).to include(
        corrects_id: row[:id],
        correction_reason: "read the wrong line"
      )
      expect(record(visit).repeats(CoreHelpers::CALF, "left").mm).to eq Rational(735, 2)
      expect { correct["again"] }.to raise_error(store::Unacceptable)
    end

    it "corrects a check on a closed visit only, and only as the check that it is" do
      looked = record(visit).rows(:check_results).find { |row| row[:check_key] == "no_pinch" }
      correct = ->(id) do
        run(
          visit,
          account,
          :CorrectCheck,
          corrects: id,
          outcome: "bad",
          why: "ticked the wrong line"
        )
      end
      expect { correct[looked[:id]] }.to raise_error(store::Unacceptable, /still open/)
      again = ->(**how) do
        run(visit, account, :RecordCheck, check: "no_pinch", side: "left", **how)
      end
      state = -> do
        record(visit).fit.checklist("left").items.find { |item| item.check.key == "no_pinch" }.state
      end
      again[outcome: "good"]
      later
      correct[looked[:id]]
      expect(record(visit).rows(:check_results).last).to include(
        check_key: "no_pinch",
        outcome: "bad",
        corrects_id: looked[:id]
      )
      expect { correct[looked[:id]] }.to raise_error(store::Unacceptable, /corrected already/)
      # what was looked at again later stands
      expect(state.call).to eq :good
      rows = record(visit).rows(:check_results).select { |row| row[:check_key] == "no_pinch" }
      correct[rows.reject { |row| row[:corrects_id] }.last[:id]]
      expect(state.call).to eq :stop
    end

    it "rechecks against the first visit, then plans the next" do
      expect { run(later, account, :CloseRecheck) }.to raise_error(store::Refused) { |e|
        expect(e.blocks.map(&:code)).to include(:identity_open, :unread, :ask_open, :check_open)
      }
      ask(later, account)
      take(later, account, "34.8")
      answer_all(later)
      look_at_all(later, account)
      handed = clinic.today
      Handrail::Store.at(clinic.moment(handed + 8, 12, 0)) { run(later, account, :CloseRecheck) }
      expect(record(later).visits.last).to have_attributes(
        plan_key: "settled",
        due_from: handed + 42
      )
    end

    it "does not count one that is held on the day of the hand-over for the planned one" do
      ask(later, account)
      take(later, account, "34.8")
      answer_all(later)
      look_at_all(later, account)
      run(later, account, :CloseRecheck)
      expect(record(later).visits.last).to have_attributes(
        plan_key: "early",
        due_from: clinic.today + 7
      )
    end

    it "does not close over broken skin, an open question or a girth that was not read" do
      ask(later, account)
      answer_all(later)
      look_at_all(later, account)
      expect { run(later, account, :CloseRecheck) }.to blocked(:unread)
      take(later, account, "14", unit: "cm")
      expect { run(later, account, :CloseRecheck) }.to blocked(:doubt)
      run(later, account, :StrikeReading, row: record(later).doubts.first[:id], reason: "slipped")
      take(later, account, "34.8")
      run(later, account, :AnswerRecheck, field: "skin", answer: "broken")
      expect { run(later, account, :CloseRecheck) }.to blocked(:stop)
      run(
        later,
        account,
        :RecordStopAction,
        stop: "ask:skin",
        action: "referred",
        who: "Dr Spec",
        advice: "stays off a week"
      )
      run(later, account, :CloseRecheck)
      expect(record(later)).to be_closed
    end

    it "says in the story whether a measured check failed, and that a stop was found" do
      visit = fitted_visit(clinic, account)
      last = -> { record(visit).events.last[:said] }
      look(visit, account, "slip", value: "3 mm")
      expect(last.call).to end_with "3 mm"
      look(visit, account, "slip", value: "40 mm")
      expect(last.call).to end_with "40 mm, failed"
      ask(visit, account)
      expect(last.call).not_to include "stop sign"
      ask(visit, account, stops: %w[cold_toes])
      expect(last.call).to include "stop sign: do not fit, refer"
    end

    it "holds a recheck for a stop of the visit before" do
      ask(visit, account, stops: %w[chest])
      run(
        visit,
        account,
        :RecordStopAction,
        stop: "chest",
        action: "advised",
        who: "Dr Heart",
        advice: "harmless"
      )
      ask(later, account, stops: %w[cold_toes])
      expect { take(later, account, "35") }.to blocked(:stop)
    end

    it "opens every check when another size is chosen, and wants its device; the old piece is gone" do
      ask(later, account)
      take(later, account, "34")
      confirm(later, account)
      look(later, account, "slip", value: "2 mm")
      run(later, account, :ChooseSize, size: "S")
      expect(record(later).fit.checklist["slip"].state).to eq :look_again
      expect(record(later).fit.checks.size).to eq family.checks(record(later).config).size
      expect(record(later).gates.blocks(:close).map(&:code)).to include(:no_device).or include(
             :other_device
           )
      run(later, account, :IssueDevice, serial: "S-9")
      expect(record(later).source.rows(:issued_devices, visit.id).last).to include(
        ended_why: "replaced"
      )
    end

    it "judges a change with level and tilt in its error" do
      ask(later, account)
      take(later, account, "35.7")
      now, before =
        [record(later), record(later).first].map { |one| one.repeats(CoreHelpers::CALF, "left") }
      plain = Handrail::Followup::ChangeOfGirth.new(CoreHelpers::CALF, before, now)
      known =
        Handrail::Followup::ChangeOfGirth.new(
          CoreHelpers::CALF,
          before,
          now,
          precision: record(later).sizing.precision("left")
        )
      expect([plain.mm, known.error > plain.error]).to eq [-8, true]
      expect(known.real?).to be false
    end

    it "ends a fitting: what is planned is called off, the device returned" do
      later
      run(visit, account, :EndFitting, why: "healed")
      expect(record(visit).fitting.ended_why).to eq "healed"
      expect(store::Visit[later.id].called_off_at).not_to be_nil
      expect(store::Day.new(clinic).lists[:unplanned].lines).to be_empty
      expect { run(visit, account, :EndFitting, why: "again so") }.to raise_error(/ended already/)
    end
  end

  describe "patients" do
    def change(who, patient, **changes)
      form = {
        "patient" => patient.id,
        "record_number" => patient.record_number,
        "given_name" => "Wilma",
        "family_name" => "Quarrel",
        "born_on" => "14.3.1961",
        "seen" => "0"
      }
      desk(clinic, who).run(
        Fixtures::Commands::ChangePatient.new(form.merge(changes.transform_keys(&:to_s)))
      )
    end

    it "shows the second of two editors what the first one did" do
      patient = make_patient(clinic, account)
      change(colleague, patient, phone: "77")
      expect { change(account, patient, phone: "88") }.to raise_error(store::Stale) { |e|
        expect(e.events.first.said).to include("phone is now 77")
      }
    end

    it "asks for two identifiers, and for an animal's owner" do
      expect {
        make_patient(clinic, account, born_on: "3/4/1961", record_number: "")
      }.to raise_error(store::Faults) { |e|
        expect(e.fields).to include("born_on" => /two ways/, "record_number" => /identifies/)
      }
      expect do make_patient(clinic, account, species: "dog", family_name: nil) end.to raise_error(
        store::Faults,
        /owner/
      )
    end

    it "gives a record number once, however it is spaced or cased" do
      make_patient(clinic, account, record_number: "C 77")
      ["c 77", "C  77", " C 77 "].each do |number|
        expect do make_patient(clinic, account, record_number: number) end.to raise_error(
          store::Faults,
          /belongs to another patient/
        )
      end
    end
  end

  it "reads many visits with as many queries as one" do
    visits = Array.new(3) { make_visit(clinic, account) }
    read = ->(some) do
      queries do
        store::Visits.load(clinic, some).each { |one| [one.gates.present, one.fit.teach_backs] }
      end
    end
    expect(read[visits]).to be <= read[[visit]] + 2
  end
end

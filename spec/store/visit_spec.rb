# frozen_string_literal: true

require "store_helper"

RSpec.describe "A visit, written and read", :rolled_back do
  let(:clinic) { make_clinic }
  let(:account) { make_account(clinic) }
  let(:colleague) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:visit) { make_visit(clinic, account) }

  describe "readings" do
    it "keeps an entry that comes twice once" do
      key = SecureRandom.uuid
      rows = Array.new(2) { take(visit, account, "36.5", entry_key: key) }
      expect(rows.map { |row| row[:id] }.uniq.size).to eq 1
      expect(record(visit).visit.version).to eq 1
    end

    it "keeps the exact value, the text as typed, and the tape it was read from" do
      row = take(visit, account, "14 3/8 in")
      expect(row).to include(typed: "14 3/8 in", unit: "in", tape: "in 1/8", value_mm: BigDecimal("365.125"), question: nil)
    end

    it "uses no reading while its question is open, and puts a wrong unit right without losing the first" do
      row = take(visit, account, "14 3/8")
      expect(record(visit).match.verdict).to eq :unusable
      expect(row[:question]).to match(%r{Was it 14 3/8 in|Was it 14\.38 in})
      Fixtures::Entries::Readings.answer(ledger(visit, account), record(visit), row[:id], "other")
      expect(record(visit).match.size).to eq "M"
      expect(record(visit).rows(:readings).map { |r| [r[:unit], r[:strike_reason]] }).to eq [["cm", "typed in cm, meant in"], ["in", nil]]
    end

    it "strikes out with a reason only, and never uses the reading again" do
      row = take(visit, account, "36.5")
      expect do
        Fixtures::Entries::Readings.strike(ledger(visit, account), record(visit), row[:id], " ")
      end.to raise_error(Fixtures::Store::Unacceptable, /Say why/)
      Fixtures::Entries::Readings.strike(ledger(visit, account), record(visit), row[:id], "tape slipped")
      expect(record(visit).repeats(CoreHelpers::CALF, "left")).to be_nil
      expect(record(visit).rows(:readings).size).to eq 1
    end

    it "refuses what can not be read, and writes nothing" do
      ["", "wide", "16 to 17", "0", "-4"].each { |typed| expect { take(visit, account, typed) }.to raise_error(Fixtures::Store::Unacceptable) }
      expect { take(visit, account, "36", side: "upper") }.to raise_error(/left or right/)
      expect { take(visit, account, "36", posture: "upside down") }.to raise_error(/Choose one of/)
      expect(record(visit).visit.version).to eq 0
    end
  end

  describe "two people at once" do
    it "stops the second saver on the same thing, says what changed, and lets the rest pass" do
      seen = record(visit).visit.version
      take(visit, colleague, "36.5", ledger: ledger(visit, colleague, seen: seen, page: "b" * 16))
      mine = -> { ledger(visit, account, seen: seen, page: "a" * 16) }
      expect { take(visit, account, "36.9", ledger: mine.call) }.to raise_error(Fixtures::Store::Stale) { |e| expect(e.events.map(&:said)).to eq ["left calf, 15 cm below: 36.5 cm"] }
      expect { take(visit, account, "38", site: "knee_mid_patella", ledger: mine.call) }.to change { record(visit).visit.version }.by(1)
    end

    it "is not surprised by what the same page wrote" do
      first = ledger(visit, account, seen: 0, page: "a" * 16)
      take(visit, account, "36.5", ledger: first)
      expect { take(visit, account, "36.6", ledger: ledger(visit, account, seen: 0, page: "a" * 16)) }.to change { record(visit).visit.version }.by(1)
    end

    it "stops a size chosen on readings that have changed" do
      ask(visit, account)
      take(visit, account, "36.5")
      seen = record(visit).visit.version
      take(visit, colleague, "39.5")
      expect { Fixtures::Entries::Sizes.choose(ledger(visit, account, seen: seen), "M") }.to raise_error(Fixtures::Store::Stale)
    end
  end

  describe "sizes" do
    before do
      ask(visit, account)
      take(visit, account, "36.5")
    end

    it "keeps what was advised, on which chart, and why another was taken" do
      expect { Fixtures::Entries::Sizes.choose(ledger(visit, account), "L") }.to raise_error(Fixtures::Store::Unacceptable, /Say why you take L/)
      Fixtures::Entries::Sizes.choose(ledger(visit, account), "L", why: "swells by noon")
      expect(record(visit).choice).to include(advised: "M", chosen: "L", why_different: "swells by noon",
                                              chart_revision_id: record(visit).revision.id)
    end

    it "keeps its chart when the maker sends a new one" do
      Fixtures::Entries::Sizes.choose(ledger(visit, account), "M")
      was = record(visit).revision.id
      rows = record(visit).revision.rows.map { |row| row.with(min: row.min + 100, max: row.max + 100) }
      Fixtures::Store::ChartRevision.add(record(visit).product, rows, dated: clinic.today)
      expect(record(visit).revision.id).to eq was
      expect(record(make_visit(clinic, account, product: record(visit).product)).revision.id).not_to eq was
    end

    it "refuses a size that the chart does not have, and a size before the order's questions" do
      expect { Fixtures::Entries::Sizes.choose(ledger(visit, account), "XXL") }.to raise_error(/no size “XXL”/)
      fresh = make_visit(clinic, account)
      expect { Fixtures::Entries::Sizes.choose(ledger(fresh, account), "M") }.to raise_error(Fixtures::Store::Refused, /name and date of birth/)
    end

    it "stops everything at a stop sign" do
      ask(visit, account, stops: %w[calf_swelling])
      expect { Fixtures::Entries::Sizes.choose(ledger(visit, account), "M") }.to raise_error(Fixtures::Store::Refused, /do not fit, refer/)
    end
  end

  describe "from fitting to recheck" do
    let(:visit) { fitted_visit(clinic, account) }

    it "enforces the first strap and notes a swap of the others" do
      fresh = make_visit(clinic, account)
      ask(fresh, account)
      take(fresh, account, "36.5")
      Fixtures::Entries::Sizes.choose(ledger(fresh, account), "M")
      step = ->(key) { Fixtures::Entries::Fit.step(ledger(fresh, account), key) }
      expect { step["strap_thigh"] }.to raise_error(/calf strap goes first/)
      step["strap_calf"]
      step["strap_lower_thigh"]
      expect(record(fresh).events.last[:said]).to include("Lower thigh strap (Lower thigh strap before Thigh strap")
    end

    it "judges a measured check by its criterion" do
      look(visit, account, "slip", typed: "16 mm")
      expect(record(visit).checklist["slip"].state).to eq :stop
      look(visit, account, "slip", typed: "1/4 in")
      expect(record(visit).checklist["slip"].state).to eq :good
      expect { look(visit, account, "slip", typed: "a lot") }.to raise_error(Fixtures::Store::Unacceptable, /How far down/)
    end

    it "hands over only after the checks, the final look and an unaided teach-back, and plans the first recheck" do
      expect { hand_over(visit, account) }.to raise_error(Fixtures::Store::Refused, /has not put it on/)
      teach(visit, account)
      Fixtures::Entries::Fit.change(ledger(visit, account), "slides_down", "wash_lotion")
      expect { hand_over(visit, account) }.to raise_error(Fixtures::Store::Refused, /Look again/)
      look(visit, account, "slip", typed: "3 mm")
      expect { hand_over(visit, account) }.to raise_error(Fixtures::Store::Refused, /Final check/)
      look(visit, account, "final_look")
      hand_over(visit, account)
      expect(record(visit).visit).to be_closed
      expect(record(visit).visits.last).to have_attributes(purpose: "recheck", due_from: clinic.today + 7, due_to: clinic.today + 14)
      expect { take(visit, account, "36.5") }.to raise_error(Fixtures::Store::Closed)
    end

    it "takes a senior's word with a reason, and nobody else's" do
      word = ->(who, reason) { Fixtures::Entries::Handing.override(ledger(visit, who), reason: reason) }
      expect { word[account, "carer comes Friday"] }.to raise_error(Fixtures::Store::Refused, /Only a senior/)
      expect { word[senior, "ok"] }.to raise_error(Fixtures::Store::Unacceptable, /few words/)
      word[senior, "carer comes Friday"]
      hand_over(visit, account)
      expect(record(visit).overrides.last).to include(reason: "carer comes Friday")
      expect(record(visit).overrides.last[:blocks].join).to include("has not put it on")
    end

    it "corrects a closed visit with a new row that names the old one" do
      teach(visit, account)
      hand_over(visit, account)
      row = record(visit).rows(:readings).first
      correct = ->(why) { take(visit, account, "37", corrects: row[:id], why: why) }
      expect { correct[""] }.to raise_error(Fixtures::Store::Unacceptable, /Say why/)
      correct["read the wrong line"]
      expect(record(visit).rows(:readings).last).to include(corrects_id: row[:id], correction_reason: "read the wrong line")
      expect(record(visit).repeats(CoreHelpers::CALF, "left").mm).to eq Rational(735, 2)
    end

    it "rechecks against the first visit, then plans the next" do
      teach(visit, account)
      hand_over(visit, account)
      later = record(visit).visits.last
      expect { Fixtures::Entries::Handing.close_recheck(ledger(later, account)) }.to raise_error(Fixtures::Store::Refused, /name and date of birth/)
      ask(later, account)
      take(later, account, "35")
      record(later).family.recheck_asks.each { |ask| Fixtures::Entries::Handing.answer(ledger(later, account), record(later), ask.key, ask.choices ? ask.choices.first.key : "6") }
      record(later).checks.each { |c| look(later, account, c.key, typed: c.measured? ? "2 mm" : nil) }
      change = Handrail::Followup::ChangeOfGirth.new("calf", record(later).first.repeats(CoreHelpers::CALF, "left"),
                                                     record(later).repeats(CoreHelpers::CALF, "left"))
      expect([change.mm, change.real?]).to eq [-15, true]
      Fixtures::Entries::Handing.close_recheck(ledger(later, account))
      expect(record(later).visits.last).to have_attributes(plan_key: "settled", due_from: clinic.today + 42)
    end

    it "opens every check of a recheck when another size is chosen" do
      teach(visit, account)
      hand_over(visit, account)
      later = record(visit).visits.last
      ask(later, account)
      take(later, account, "34")
      look(later, account, "slip", typed: "2 mm")
      Fixtures::Entries::Sizes.choose(ledger(later, account), "S")
      expect(record(later).checklist["slip"].state).to eq :look_again
      expect(record(later).checks.size).to eq family.checks(record(later).config).size
    end
  end

  describe "patients" do
    it "shows the second of two editors what the first one did" do
      patient = make_patient(clinic, account)
      form = { "record_number" => patient.record_number, "given_name" => "Wilma", "family_name" => "Quarrel", "born_on" => "14.3.1961" }
      Fixtures::Entries::Patients.update(clinic, colleague, patient, form.merge("phone" => "77"), seen: 0)
      expect { Fixtures::Entries::Patients.update(clinic, account, patient, form.merge("phone" => "88"), seen: 0) }
        .to raise_error(Fixtures::Store::Stale) { |e| expect(e.events.first.said).to include("phone is now 77") }
    end

    it "asks for two identifiers, and for an animal's owner" do
      expect { make_patient(clinic, account, born_on: "3/4/1961", record_number: "") }
        .to raise_error(Fixtures::Store::Faults) { |e| expect(e.fields).to include("born_on" => /two ways/, "record_number" => /identifies/) }
      expect { make_patient(clinic, account, species: "dog", family_name: nil) }.to raise_error(Fixtures::Store::Faults, /owner/)
    end

    it "gives a record number once" do
      make_patient(clinic, account, record_number: "X 1")
      expect { make_patient(clinic, account, record_number: "X 1") }.to raise_error(Fixtures::Store::Faults, /belongs to another patient/)
    end
  end

  it "reads many visits with as many queries as one" do
    visits = [visit, make_visit(clinic, account), make_visit(clinic, account)]
    queries = lambda do |some|
      log = []
      logger = Class.new do
        define_method(:info) { |text| log << text }
        define_method(:debug) { |_| nil }
        define_method(:error) { |_| nil }
        define_method(:warn) do |_|
          nil
        end
      end.new
      Handrail::Store.db.loggers << logger
      Fixtures::Store::VisitRecord.load(clinic, some).each { |r| [r.progress.present, r.rows(:teach_backs)] }
      log.size
    ensure
      Handrail::Store.db.loggers.delete(logger)
    end
    expect(queries[visits]).to be <= queries[visits.first(1)] + 4
  end
end

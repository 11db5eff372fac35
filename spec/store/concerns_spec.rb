# frozen_string_literal: true

require "store_helper"

# What should not wait until somebody remembers it, and who has come.
RSpec.describe "What should not wait", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:worn) { handed_over_visit(clinic, fitter) }
  let(:later) { record(worn).visits.last }

  def board(days = 0) =
    Handrail::Store::Day
      .new(clinic, now: clinic.moment(clinic.today + days, 12, 0))
      .dues
      .slice("problem", "skin", "mark")

  describe "a size that was chosen by readings put right since" do
    def correct(row, value)
      run(
        worn,
        fitter,
        :CorrectReading,
        corrects: row[:id].to_s,
        value: value,
        why: "read the wrong line"
      )
    end

    def misread = Handrail::Store::Day.new(clinic).dues.fetch("misread")
    def notice = Handrail::Wording.concern(misread.first)

    before { record(worn).live_readings.each { |row| correct(row, "38.5") } }

    it "is said on the board and stands until the limb was read again" do
      expect(misread.map { |row| row.values_at(:label, :course) }).to eq [%w[M L]]
      expect(notice).to include "size M is worn", "it would be size L"
      ask(later, fitter)
      expect(misread.size).to eq 1
      take(later, fitter, "36.5")
      expect(misread).to eq []
    end

    it "is gone where the readings are put right once more, and another correction within the size says nothing" do
      record(worn).live_readings.each { |row| correct(row, "36.8") }
      expect(misread).to eq []
    end
  end

  describe "a check that was good, and is not as it was put right" do
    # of the closed visit; one that is looked at again at a recheck
    let(:row) do
      checks = record(worn).family.recheck_check_keys
      record(worn)
        .rows(:check_results)
        .find do |one|
          check = record(worn).family.check(one[:check_key])
          checks.include?(check.key) && !check.measured? && check.ways.to_a.empty?
        end
    end

    def correct(row, **how) =
      run(worn, fitter, :CorrectCheck, corrects: row[:id].to_s, why: "wrong line", **how)
    def wrong(row)
      check = record(worn).family.check(row[:check_key])
      return { value: "200 mm" } if check.kind == "length"

      { outcome: "bad", way: check.ways.to_a.first&.key }
    end
    def failed = Handrail::Store::Day.new(clinic).dues.fetch("failed")

    before { correct(row, outcome: "bad") }

    it "is said on the board, at the patient and at the next visit, until it was looked at again" do
      said = Handrail::Wording.concern(failed.first)
      expect(said).to match(/\A[A-Z].+: as it was put right on .*, it was not good/)
      expect(record(later).concerns.put_right.map(&:kind)).to eq [:failed]
      ask(later, fitter)
      expect(failed.size).to eq 1
      look_at_all(later, fitter)
      expect([failed, record(later).concerns.put_right]).to eq [[], []]
    end

    it "is asked at the next visit, also where a recheck does not ask it" do
      keys = record(worn).family.recheck_check_keys
      other =
        record(worn)
          .rows(:check_results)
          .find { |one| (keys + [row[:check_key]]).none?(one[:check_key]) }
      asked = -> { record(later).fit.checklist("left").items.map { |item| item.check.key } }
      expect(asked.call).not_to include(other[:check_key])
      correct(other, **wrong(other))
      expect(asked.call).to include(other[:check_key])
      ask(later, fitter)
      look_at_all(later, fitter)
      expect([asked.call.include?(other[:check_key]), failed]).to eq [true, []]
    end

    it "is gone where it is put right once more" do
      correct(record(worn).rows(:check_results).last, outcome: "good")
      expect(failed).to eq []
    end

    it "is none of what had failed, or was looked at again at the same visit" do
      seen = ->(*outcomes) do
        rows =
          outcomes.map do |id, right, outcome|
            {
              id: id,
              corrects_id: right,
              outcome: outcome,
              check_key: row[:check_key],
              at: row[:at]
            }
          end
        visit = record(worn)
        allow(visit).to receive(:rows).and_call_original
        allow(visit).to receive(:rows).with(:check_results).and_return(rows)
        allow(visit).to receive_messages(visits_so_far: [visit.row], at: visit)
        visit.concerns.put_right.map(&:kind)
      end
      expect(seen.call([1, nil, "good"], [2, 1, "bad"])).to eq [:failed]
      expect(seen.call([1, nil, "bad"], [2, 1, "bad"])).to eq []
      expect(seen.call([1, nil, "good"], [2, nil, "good"], [3, 1, "bad"])).to eq []
      expect(seen.call([1, nil, "good"], [2, 1, "good"], [3, 2, "bad"])).to eq [:failed]
    end
  end

  # a problem that shows in checks of a recheck too, with a remedy that the fitter does
  def problem
    family = record(worn).family
    family.problems.find do |one|
      shown = one.shows_in.to_a
      shown.any? && (shown - family.recheck_check_keys).empty? &&
        one.remedies.any? { |remedy| remedy.goes_to.nil? }
    end
  end

  # the visit as it stands is closed, and the next one of its fitting made
  def following(visit, **booked)
    Handrail::Store::Visit.where(id: visit.id).update(
      closed_at: Handrail::Store.now,
      closed_by: fitter.id
    )
    Handrail::Store::Visit.create(
      clinic_id: clinic.id,
      fitting_id: visit.fitting_id,
      purpose: "recheck",
      **booked
    )
  end

  def change_something(visit)
    remedy = problem.remedies.find { |one| one.goes_to.nil? }
    run(visit, fitter, :ChangeOneThing, problem: problem.key, remedy: remedy.key)
  end

  def see(visit, outcome)
    problem.shows_in.each do |key|
      check = record(visit).family.all_checks.find { |one| one.key == key }
      value = outcome == "good" ? good_value(check) : nil
      run(visit, fitter, :RecordCheck, check: key, outcome: value ? nil : outcome, value: value)
    end
  end

  describe "a problem" do
    before { ask(later, fitter) }

    it "stands from the change on until its checks were good afterwards" do
      change_something(later)
      expect(record(later).concerns.problems.map(&:key)).to eq [problem.key]
      see(later, "good")
      expect(record(later).concerns.problems).to eq []
    end

    it "is on the board with its day, and not while a visit is booked" do
      change_something(later)
      expect(board["problem"].map { |row| [row[:label], row[:due_on]] }).to eq [
           [problem.title, clinic.today]
         ]
      booked = following(later, planned_for: clinic.moment(clinic.today + 20, 10, 0))
      expect(board["problem"]).to eq []
      booked.update(planned_for: nil)
      expect(board["problem"].map { |row| row[:next_visit] }).to eq [booked.id]
      run(later, fitter, :EndFitting, why: "healed, no device needed")
      expect(store.db[:fitting_dues].where(fitting_id: worn.fitting_id).count).to eq 0
      expect(store::Summaries.differences(clinic)).to eq []
      expect(board["problem"]).to eq []
    end

    it "ends at a later visit where it was looked at and good, and not by being left alone" do
      change_something(later)
      third = following(later)
      ask(third, fitter)
      expect(record(third).concerns.problems.map(&:key)).to eq [problem.key]
      look_at_all(third, fitter)
      expect(record(third).concerns.problems).to eq []
    end

    it "is the same when everything is made anew" do
      change_something(later)
      expect(store::Summaries.differences(clinic)).to eq []
      kept = store.db[:fitting_dues].where(fitting_id: worn.fitting_id).order(:kind, :key).all
      store::Summaries.rebuild(clinic)
      made = store.db[:fitting_dues].where(fitting_id: worn.fitting_id).order(:kind, :key).all
      expect(made).to eq kept
    end
  end

  it "names skin that was looked at again and is no smaller, unless a visit is booked within two weeks" do
    first = sized_visit(clinic, fitter)
    run(first, fitter, :RecordSkin, x: "190", y: "333", kind: "mark_fades", side: "left")
    finish_steps(first, fitter)
    look_at_all(first, fitter)
    teach(first, fitter)
    hand_over(first, fitter)
    again = record(first).visits.last
    ask(again, fitter)
    place = record(again).body.skin.last.last
    expect(board["skin"]).to eq []
    run(again, fitter, :RecordSkin, follows: place[:id].to_s, course: "same")
    expect(board["skin"].map { |row| row.values_at(:label, :course) }).to eq [%w[mark_fades same]]
    said = Handrail::Wording.concern(board["skin"].first)
    expect(said).to match(/mark that fades: since .*, the same when it was last looked at/)
    booked = following(again, planned_for: clinic.moment(clinic.today + 20, 10, 0))
    expect(board["skin"].map { |row| row.values_at(:next_visit, :planned_for) }).to eq [
         [booked.id, booked.planned_for]
       ]
    booked.update(planned_for: clinic.moment(clinic.today + 10, 10, 0))
    expect(board["skin"]).to eq []
  end

  describe "marks of a wrap" do
    # past their marks, of a closure that holds 40 mm
    def drifts(**settings)
      visit = record(worn)
      rows =
        settings.map do |key, mm|
          [key.to_s, { setting: key.to_s, value_mm: mm.to_d, at: store_now }]
        end
      wrap = Handrail::Families::Registry.fetch("compression_wrap")
      allow(visit).to receive(:family).and_return(wrap)
      allow(visit).to receive(:rows_so_far).and_call_original
      allow(visit).to receive(:rows_so_far).with(:strap_settings).and_return(rows.map(&:last))
      visit
    end

    def store_now = Handrail::Store.now

    it "are said when the closure is nearly used up" do
      visit = drifts(lowest: 31, top: 10, reach: 40)
      expect(visit.fit.mark_drifts.map(&:state)).to eq %i[near within]
      expect(visit.concerns.all.map { |one| [one.kind, one.key] }).to eq [[:mark, "lowest"]]
      expect(Handrail::Wording.mark_drift(visit.fit.mark_drifts.first)).to include(
        "31 mm of 40 mm that hold, 9 mm left"
      )
    end

    it "are nothing where nobody read how far the closure holds" do
      expect(drifts(lowest: 31, top: 10).fit.mark_drifts).to eq []
    end
  end

  describe "who is here" do
    let(:visit) { make_visit(clinic, fitter) }

    def arrive(came = "yes", who: fitter) = run(visit, who, :NoteArrival, came: came)
    def book(day: clinic.today.iso8601, time: "23:30", **more) =
      run(visit, fitter, :BookVisit, day: day, time: time, anyway: "yes", **more)

    it "is noted by the front desk for today's visit, and taken back" do
      book
      desk = make_account(clinic, "front_desk")
      arrive(who: desk)
      row = record(visit).row
      expect([row.arrived_at.nil?, row.opened_at]).to eq [false, nil]
      expect(arrive(who: desk).again).to be true
      arrive("", who: desk)
      expect(record(visit).row.arrived_at).to be_nil
    end

    it "is refused on another day, on a visit that has begun, and on one that is closed" do
      book(day: (clinic.today + 1).iso8601)
      expect { arrive }.to raise_error(store::Unacceptable, /not booked for today/)
      book
      ask(visit, fitter)
      expect { arrive }.to raise_error(store::Unacceptable, /has begun/)
      expect { run(worn, fitter, :NoteArrival, came: "yes") }.to raise_error(store::Closed)
    end

    it "is not kept when the visit is moved to another day, and no no-show while they sit there" do
      store.at(clinic.moment(clinic.today, 23, 50)) do
        book(time: "23:40")
        arrive
        expect { run(visit, fitter, :MissVisit, why: "no_show") }.to raise_error(
          store::Unacceptable,
          /They are here/
        )
        book(time: "23:45")
        expect(record(visit).row.arrived_at).not_to be_nil
        book(day: (clinic.today + 1).iso8601)
        expect(record(visit).row.arrived_at).to be_nil
      end
    end
  end

  it "parts what was only not signed from what was begun" do
    ready = fitted_visit(clinic, fitter)
    teach(ready, fitter)
    begun = sized_visit(clinic, fitter)
    later = [ready, begun].each { |one| store::Visit.where(id: one.id).update(planned_for: nil) }
    lists = store::Day.new(clinic).lists
    expect(lists.slice(:unsigned, :paused).transform_values { |cut| cut.lines.map(&:id) }).to eq(
      unsigned: [later.first.id],
      paused: [later.last.id]
    )
  end
end

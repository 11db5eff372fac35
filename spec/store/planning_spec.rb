# frozen_string_literal: true

require "store_helper"

RSpec.describe "Planning visits", :rolled_back do
  store = Handrail::Store

  let(:clinic) { make_clinic.tap { |one| one.update(choices: store.json("rooms" => "Blue\nRed")) } }
  let(:fitter) { make_account(clinic).tap { |one| one.update(name: "Abe One") } }
  let(:other) { make_account(clinic).tap { |one| one.update(name: "Bea Two") } }
  let(:desk_account) { make_account(clinic, "front_desk") }
  let(:monday) { clinic.today + 7 + ((1 - clinic.today.wday) % 7) }
  let(:visit) { make_visit(clinic, fitter) }
  let(:planning) { store::Planning.new(clinic) }

  def settle(**choices)
    clinic.update(
      choices: Handrail::Store.json(clinic.choices.to_h.merge(choices.transform_keys(&:to_s)))
    )
    # as the next request finds it
    [fitter, other, desk_account].each { |one| one.associations.clear }
  end

  def book(visit, time, day: monday, **more)
    run(visit, desk_account, :BookVisit, day: day.iso8601, time: time, **more)
    visit.refresh
  end

  def refused(field, message)
    raise_error(Handrail::Store::Unacceptable) do |e|
      expect([e.field, e.message]).to match [field, message]
    end
  end

  it "books for as long as the clinic takes for that kind, or as long as is said" do
    book(visit, "09:00")
    expect((visit.planned_to - visit.planned_for) / 60).to eq 60
    settle(minutes_first: "45")
    book(visit, "09:00")
    expect((visit.planned_to - visit.planned_for) / 60).to eq 45
    book(visit, "09:00", minutes: "20")
    expect((visit.planned_to - visit.planned_for) / 60).to eq 20
    expect { book(visit, "09:00", minutes: "4") }.to refused("minutes", /5 to 240/)
  end

  it "puts no fitter in two places, and says who is there" do
    book(visit, "09:00", with: fitter.id, room: "Blue")
    second = make_visit(clinic, fitter)
    expect { book(second, "09:30", with: fitter.id) }.to refused(
      "time",
      /\A#{fitter.name} is taken from 09:00 to 10:00, by .+\. Choose another time\./
    )
    expect { book(second, "09:59", room: "Blue") }.to refused("time", /Blue is taken/)
    expect(book(second, "09:30", with: other.id, room: "Red").planned_room).to eq "Red"
    # next to one another is no clash, and a visit may be moved over its own time
    third = make_visit(clinic, fitter)
    expect(book(third, "10:00", with: fitter.id, room: "Blue").planned_with).to eq fitter.id
    expect(book(visit, "09:00", with: fitter.id, room: "Blue", minutes: "60").version).to be > 1
  end

  it "is held to it by the database, where two book at once" do
    first = visit
    second = make_visit(clinic, fitter)
    at = clinic.moment(monday, 9, 0)
    whole = { planned_for: at, planned_to: at + 1800, planned_with: fitter.id }
    store::Visit.where(id: first.id).update(whole)
    expect do
      store.db.transaction(savepoint: true) { store::Visit.where(id: second.id).update(whole) }
    end.to raise_error(Sequel::Postgres::ExclusionConstraintViolation)
    # neither has seen the other's booking yet
    allow(store::Planning).to receive(:new).and_wrap_original do |made, *args|
      made.call(*args).tap { |one| allow(one).to receive(:clash) }
    end
    expect do
      store.db.transaction(savepoint: true) { book(second, "09:00", with: fitter.id) }
    end.to refused("time", /taken meanwhile/)
  end

  it "asks again before a day that has passed, shut hours and somebody's free day" do
    expect { book(visit, "09:00", day: clinic.today - 1) }.to refused("anyway", /has passed/)
    settle(hours_mon: "08:00-12:00")
    expect { book(visit, "11:30") }.to refused("anyway", /open from 08:00 to 12:00/)
    expect { book(visit, "09:00", day: monday + 1) }.to refused(
      "anyway",
      /closed on that day of the week/
    )
    run_hours(fitter, mon: "10:00-11:00")
    expect { book(visit, "09:00", with: fitter.id) }.to refused(
      "anyway",
      /works from 10:00 to 11:00/
    )
    expect(book(visit, "09:00", with: fitter.id, anyway: "yes").planned_with).to eq fitter.id
  end

  def run_hours(whom, by: whom, **hours)
    desk(clinic, by).run(
      Fixtures::Commands::ChangeHours.new(
        "person" => whom.id,
        "hours" => hours.transform_keys(&:to_s)
      )
    )
  end

  it "takes own hours from everyone, and those of others from a senior alone" do
    expect { run_hours(fitter, by: other, mon: "10:00-11:00") }.to raise_error(store::NotAllowed)
    expect { run_hours(fitter, mon: "10-11") }.to raise_error(store::Faults, /like 09:00-17:00/)
    expect { run_hours(fitter, mon: "11:00-10:00") }.to raise_error(store::Faults, /closes before/)
    run_hours(fitter, by: make_account(clinic, "senior"), mon: "10:00-11:00", sun: "")
    expect(fitter.refresh.hours.to_h).to eq("mon" => "10:00-11:00")
  end

  it "books nobody who does no fitting, is gone, or is of another clinic" do
    gone = make_account(clinic).tap { |one| one.update(status_id: 3) }
    [desk_account, gone, make_account(make_clinic)].each do |one|
      expect { book(visit, "09:00", with: one.id) }.to refused("with", /fits here/)
    end
    expect { book(visit, "09:00", room: "Green") }.to refused("room", /clinic's rooms/)
  end

  it "proposes times in the window, with whoever is free, in a free room" do
    settle(hours_mon: "09:00-12:00", hours_tue: "09:00-12:00")
    book(visit, "09:00", with: fitter.id, room: "Blue", minutes: "180")
    run_hours(other, tue: "09:00-10:00")
    found = planning.openings("recheck", between: monday..(monday + 4))
    expect(found.map { |one| [one.day, one.minute, one.who, one.room] }).to eq [
         [monday + 1, 540, fitter.id, "Blue"],
         [monday + 1, 660, fitter.id, "Blue"]
       ]
  end

  it "puts who is known to the wearer first, where they are free" do
    fitter && other
    found = planning.openings("recheck", between: monday..monday, prefer: other.id)
    expect(found.map(&:who)).to eq [other.id, other.id]
    book(visit, "11:00", with: other.id)
    expect(
      planning.openings("recheck", between: monday..monday, prefer: other.id).map(&:who)
    ).to eq [other.id, fitter.id]
  end

  it "knows the clock's change: a day of 23 hours is booked at its own time" do
    clinic.update(time_zone: "Europe/London")
    spring = Date.new(2027, 3, 28)
    expect { book(visit, "01:30", day: spring) }.to refused("time", /clocks go forward/)
    book(visit, "09:00", day: spring, with: fitter.id)
    expect(visit.planned_for).to eq Time.utc(2027, 3, 28, 8, 0)
    book(visit, "09:00", day: spring - 1, with: fitter.id)
    expect(visit.planned_for).to eq Time.utc(2027, 3, 27, 9, 0)
    autumn = Date.new(2026, 10, 25)
    twice =
      store::Planning.new(clinic, now: Time.utc(2026, 10, 24)).openings(
        "first",
        between: autumn..autumn
      )
    expect(twice.map(&:minute)).to eq [540, 660]
  end

  it "lays out what is booked by the clinic's clock, on the days on which it changes as on others" do
    clinic.update(time_zone: "Europe/London")
    days = [Date.new(2027, 3, 27), Date.new(2027, 3, 28), Date.new(2027, 3, 29)]
    days.each do |day|
      book(
        make_visit(clinic, fitter),
        "09:05",
        day: day,
        minutes: "40",
        with: fitter.id,
        sure: "yes"
      )
    end
    late = make_visit(clinic, fitter)
    book(late, "23:30", day: days.last, minutes: "60", sure: "yes")
    slots = planning.slots(days.first..days.last)
    expect(slots.map { |one| [one.day, one.from, one.to] }).to eq [
         *days.map { |day| [day, 545, 585] },
         [days.last, 1410, 1440]
       ]
    expect(planning.known(days.first..days.last, [late.id]).transform_values(&:name)).to eq(
      late.id => planning.booked(days.last..days.last).last.name
    )
  end

  describe "a visit that does not take place" do
    let(:late) do
      handed_over_visit(clinic, fitter).fitting.then do |fitting|
        store::Visit.last(fitting_id: fitting.id)
      end
    end

    def miss(visit, **how) = run(visit, desk_account, :MissVisit, **how)

    it "stays due and asks for another time, and tells the wearer" do
      book(late, "09:00", with: fitter.id, room: "Red")
      miss(late, why: "cancelled", note: "has a cold")
      late.refresh
      expect(
        late.values.slice(:planned_for, :planned_to, :planned_with, :planned_room).values.compact
      ).to be_empty
      expect(late.due_to).not_to be_nil
      expect(late.called_off_at).to be_nil
      kinds = store::Outbox.new(clinic).newest.map { |row| row[:body] }
      expect([kinds.size, kinds.first]).to match [2, /does not take place/]
      expect(record(late).events.last[:said]).to match(
        /cancelled the visit of .*09:00 \(has a cold\)/
      )
    end

    it "is no no-show before its time, nothing that was not booked, and none that has begun" do
      expect { miss(late, why: "no_show") }.to refused("why", /not booked/)
      book(late, "09:00")
      expect { miss(late, why: "no_show") }.to refused("why", /has not come yet/)
      expect { miss(late, why: "gone") }.to refused("why", /did not come, or it was cancelled/)
      store.at(late.planned_for + 3600) { ask(late, fitter) }
      expect { miss(late, why: "cancelled") }.to refused("why", /has begun/)
    end

    it "is said to calendars as cancelled under the same UID, until it is booked anew" do
      book(late, "09:00")
      rows = -> { store::CalendarKeys.visits(fitter) }
      before = rows.call.find { |row| row[:id] == late.id }
      miss(late, why: "cancelled")
      after = rows.call.find { |row| row[:id] == late.id }
      expect([before[:gone], after[:gone], after[:version] > before[:version]]).to eq [
           false,
           true,
           true
         ]
      ical = Handrail::Exchange::ClinicCalendar.new(clinic, [after], now: Time.now).to_ical
      expect(ical).to include("STATUS:CANCELLED", "UID:visit-#{late.id}@#{clinic.key}.handrail")
      book(late, "10:00")
      expect(rows.call.select { |row| row[:id] == late.id }.map { |row| row[:gone] }).to eq [false]
    end
  end

  it "shows each fitter their own visits, and those that nobody has taken" do
    book(visit, "09:00", with: fitter.id)
    open = book(make_visit(clinic, fitter), "11:00")
    shown = ->(who) { store::CalendarKeys.visits(who).map { |row| row[:id] } }
    expect(shown[fitter]).to contain_exactly(visit.id, open.id)
    expect(shown[other]).to eq [open.id]
  end

  it "tells a cancelled visit to the fitter that it was booked with, and to nobody else" do
    later = record(handed_over_visit(clinic, fitter)).visits.last
    book(later, "09:00", with: fitter.id)
    run(later, fitter, :MissVisit, why: "cancelled")
    gone = ->(who) do
      store::CalendarKeys.visits(who).select { |row| row[:gone] }.map { |row| row[:id] }
    end
    expect([gone[fitter], gone[other]]).to eq [[later.id], []]
  end
end

# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

# A newcomer is booked before there is an order; the order takes the appointment over.
RSpec.describe "A first appointment", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:front_desk) { make_account(clinic, "front_desk") }
  let(:patient) { make_patient(clinic, fitter) }
  let(:store) { Handrail::Store }
  let(:page) { "/patients/#{patient.id}/first" }
  let(:open) { store.db[:first_appointments].where(patient_id: patient.id, ended_at: nil).first }

  before { sign_in(front_desk) }

  def book(day: clinic.today + 1, time: "10:00", from: page, **more)
    send_form(
      from,
      from: from,
      day: Handrail::Quantity::Day.write(day),
      time: time,
      what: "knee, sent by Dr Ansel",
      anyway: "yes",
      **more
    )
  end

  def command(name, **given)
    asked = { patient: patient.id, **given }.transform_keys(&:to_s)
    store::Desk.new(clinic, front_desk).run(store::Commands.const_get(name).new(asked))
  end

  # booked for an hour ago, whatever the hour
  def booked_ago(seconds = 3600, lasting: 1800)
    book
    at = store.now - seconds
    store.db[:first_appointments].where(id: open[:id]).update(
      planned_for: at,
      planned_to: at + lasting
    )
  end

  it "offers as many minutes as a first visit takes, and as many as it was booked for once it is" do
    minutes = ->(path = page) do
      get path
      html[/name="minutes"[^>]*value="(\d+)"/, 1]&.to_i
    end
    expect(minutes.call).to eq store::Planning.new(clinic).minutes("first")
    book(minutes: "55", day: clinic.today + 3)
    expect(minutes.call).to eq 55
    day = -> { html[/name="day"[^>]*value="([^"]+)"/, 1] }
    expect(day.call).to eq Handrail::Quantity::Day.write(clinic.today + 3)
    # what was typed stays where it is refused
    book(minutes: "70", time: "nonsense")
    expect([html[/name="minutes"[^>]*value="(\d+)"/, 1], day.call]).to eq [
         "70",
         Handrail::Quantity::Day.write(clinic.today + 1)
       ]
  end

  it "is booked by the front desk from the patient's page, shown there, in the week and on the board" do
    get "/patients/#{patient.id}"
    expect(text).to include "Book a first appointment"
    book(with: fitter.id)
    expect(last_response.status).to eq 303
    follow_redirect!
    expect(text).to include "First appointment", "knee, sent by Dr Ansel"
    get "/week?on=#{clinic.today + 1}"
    expect(text).to include patient.name
    expect(html).to include %(href="#{page}?back=)
    store.db[:first_appointments].where(patient_id: patient.id).update(
      planned_for: store.now + 60,
      planned_to: store.now + 900
    )
    get "/"
    expect(text).to include "first appointment: knee, sent by Dr Ansel"
  end

  it "lies beside a visit of the same minute, of somebody else" do
    book
    begun = make_visit(clinic, fitter)
    store::Visit.where(id: begun.id).update(
      planned_for: open[:planned_for],
      planned_to: open[:planned_to],
      planned_with: fitter.id
    )
    ["/week?on=#{clinic.today + 1}", "/week/day?on=#{clinic.today + 1}"].each do |path|
      get path
      expect(last_response.status).to eq 200
      expect(text).to include patient.name, record(begun).patient.name
    end
  end

  it "meets no visit of the same fitter or room, and no visit meets it" do
    book(with: fitter.id)
    other = make_patient(clinic, fitter)
    send_form(
      "/patients/#{other.id}/first",
      from: "/patients/#{other.id}/first",
      time: "10:15",
      day: Handrail::Quantity::Day.write(clinic.today + 1),
      what: "ankle",
      with: fitter.id,
      anyway: "yes"
    )
    expect(last_response.status).to eq 422
    expect(text).to include "is taken from 10:00"
    expect(html).to include 'value="ankle"'
    visit = make_visit(clinic, fitter)
    expect do
      run(
        visit,
        fitter,
        :BookVisit,
        day: (clinic.today + 1).iso8601,
        time: "10:30",
        with: fitter.id,
        anyway: "yes"
      )
    end.to raise_error(store::Unacceptable, /taken from 10:00/)
    free =
      store::Planning.new(clinic).openings(
        "first",
        between: (clinic.today + 1)..(clinic.today + 1),
        with: fitter.id
      )
    expect(free.select { |one| one.day == clinic.today + 1 }.map(&:minute)).to all(
      satisfy { |at| at >= 660 || at <= 540 }
    )
  end

  it "is taken over by the order: booked, here, and out of the list" do
    booked_ago(60)
    command(:NoteNewcomer, came: "yes")
    visit = make_visit(clinic, fitter, patient: patient)
    row = store::Visit[visit.id]
    expect(row.planned_for).to be_within(5).of(store.now - 60)
    expect(row.arrived_at).not_to be_nil
    expect(store.db[:first_appointments].where(patient_id: patient.id).first).to include(
      ended_as: "order",
      fitting_id: visit.fitting_id
    )
    get "/"
    expect(text).not_to include "first appointment: knee"
  end

  it "can be moved, and says where somebody else moved it first" do
    book
    get page
    old = html[/name="version" value="(\d+)"/, 1]
    book(time: "11:00", version: old)
    book(time: "12:00", version: old)
    expect(last_response.status).to eq 422
    expect(text).to include "moved meanwhile"
    expect(clinic.local(open[:planned_for]).strftime("%H:%M")).to eq "11:00"
  end

  it "did not come, once the time is there, and is booked anew as another" do
    book
    expect { command(:EndFirst, why: "no_show") }.to raise_error(
      store::Unacceptable,
      /not come yet/
    )
    booked_ago
    get "/"
    expect(text).to include "Did not come"
    command(:EndFirst, why: "no_show", note: "nobody answers")
    expect { command(:EndFirst, why: "no_show") }.to raise_error(
      store::Unacceptable,
      /ended or moved/
    )
    get page
    expect(text).to include "Did not come on", "nobody answers", "Book it"
    book
    expect(open).not_to be_nil
  end

  it "stays on the board of a later day until somebody says what came of it" do
    booked_ago(2 * 86_400)
    get "/"
    expect(text).to include "Nobody has noted that they came."
  end

  it "goes over to the record that this one is joined into, unless that has one of its own" do
    book
    twin = make_patient(clinic, fitter)
    senior = make_account(clinic, "senior")
    join = ->(one, into) do
      given = { "from" => one.id, "into" => into.record_number, "why" => "one person" }
      store::Desk.new(clinic, senior).run(store::Commands::JoinRecords.new(given))
    end
    join.call(patient, twin)
    expect(store::Newcomers.of(clinic, twin.id).first).not_to be_nil
    third = make_patient(clinic, fitter)
    send_form(
      "/patients/#{third.id}/first",
      from: "/patients/#{third.id}/first",
      time: "15:00",
      day: Handrail::Quantity::Day.write(clinic.today + 2),
      what: "ankle",
      anyway: "yes"
    )
    join.call(third, twin)
    expect(store::Newcomers.of(clinic, twin.id).first[:what]).to eq "knee, sent by Dr Ansel"
    expect(store::Newcomers.of(clinic, third.id).first[:what]).to eq "ankle"
  end

  it "is refused for who died, without what they come for, of another clinic, and for nonsense" do
    [
      { what: "" },
      { day: "31.2.2027" },
      { time: "25:00" },
      { with: 0 },
      { room: "Nowhere" }
    ].each do |wrong|
      unless wrong[:day]
        book(**wrong.except(:day, :time), **(wrong[:time] ? { time: wrong[:time] } : {}))
      end
      send_form(page, from: page, day: wrong[:day], time: "10:00", what: "x") if wrong[:day]
      expect(last_response.status).to eq 422
    end
    patient.update(rest: "died", rest_on: clinic.today, rest_said: "her son")
    book
    expect(last_response.status).to eq 422
    elsewhere = make_clinic
    get "/patients/#{make_patient(elsewhere, make_account(elsewhere)).id}/first"
    expect(last_response.status).to eq 404
    expect(open).to be_nil
  end

  it "says on the board that somebody did not come, in one tap, where the time of a visit has passed" do
    visit = make_visit(clinic, fitter)
    store::Visit.where(id: visit.id).update(
      planned_for: store.now - 1200,
      planned_to: store.now - 600
    )
    get "/"
    expect(html).to match(%r{/visits/#{visit.id}/miss.*value="no_show"})
  end

  it "folds away what is closed today, and counts it" do
    worn = fitted_visit(clinic, fitter)
    store::Visit.where(id: worn.id).update(planned_for: store.now - 60, planned_to: store.now)
    teach(worn, fitter)
    hand_over(worn, fitter)
    get "/"
    expect(text).to match(/One visit closed today|1 visit closed today/)
  end

  describe "what is told" do
    let(:told) { store.db[:messages].where(patient_id: patient.id).order(:id) }

    def events = Icalendar::Calendar.parse(calendar).first.events

    def calendar =
      Handrail::Exchange::ClinicCalendar.new(
        clinic,
        store::CalendarKeys.visits(fitter),
        now: store.now
      ).to_ical

    it "is written to the newcomer: booked, moved to another time, not come, with no device that they do not have" do
      book
      book(time: "11:00", version: open[:version])
      book(time: "11:00", what: "knee and ankle", version: open[:version])
      booked, moved = told.select_map(:body)
      expect(told.count).to eq 2
      expect(booked).to include "at 10:00", "Please bring the prescription"
      expect(moved).to include "was moved", "at 11:00"
      store.db[:first_appointments].where(id: open[:id]).update(
        planned_for: store.now - 3600,
        planned_to: store.now - 1800
      )
      command(:EndFirst, why: "no_show")
      missed = told.last
      expect(missed).to include(kind: "letter", visit_id: nil, by: front_desk.id)
      expect(missed[:body]).to include("we missed you").and include("nothing can be fitted")
      expect(told.select_map(:body).join).not_to include "device"
      get "/week/outbox"
      expect(text).to include "we missed you"
    end

    it "is written in the newcomer's language, and of a dog to its owner" do
      patient.update(language: "de")
      dog =
        make_patient(clinic, fitter).tap do |made|
          made.update(
            species: "dog",
            given_name: "Biscuit",
            family_name: nil,
            owner_name: "Leo Quill"
          )
        end
      words =
        [patient, dog].map do |who|
          send_form(
            "/patients/#{who.id}/first",
            from: "/patients/#{who.id}/first",
            day: Handrail::Quantity::Day.write(clinic.today + 1),
            time: who == dog ? "12:00" : "10:00",
            what: "as asked",
            anyway: "yes"
          )
          store.db[:messages].where(patient_id: who.id).get(:body)
        end
      expect(words).to match [/Ihr Termin.*das Rezept/, /your dog's appointment.*the vet/]
    end

    it "stands in the calendars of those it is booked with, without a name or what they come for, until it is over" do
      book(with: fitter.id)
      one = events.find { |event| event.uid.start_with?("first-#{open[:id]}@") }
      expect([one.summary, one.status, one.sequence]).to eq [
           "#{patient.given_name[0]}. #{patient.family_name[0]}.: first appointment",
           "CONFIRMED",
           0
         ]
      expect(calendar).not_to include "Ansel"
      other = make_account(clinic)
      expect(store::CalendarKeys.visits(other)).to eq []
      first = open
      visit = make_visit(clinic, fitter, patient: patient)
      shown = events.to_h { |event| [event.uid[/\A[a-z]+-\d+/], event.status] }
      expect(shown).to eq("first-#{first[:id]}" => "CANCELLED", "visit-#{visit.id}" => "CONFIRMED")
    end
  end
end

# frozen_string_literal: true

require "web_helper"
require "icalendar"
require "json_schemer"
require "zip"

# What leaves the clinic: a wearer for another program, the visits for a calendar.
RSpec.describe "What leaves the clinic", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { handed_over_visit(clinic, fitter) }

  before { sign_in(fitter) }

  def feed(path = @path) = Icalendar::Calendar.parse(get(path).body).first

  def make_address(**more)
    send_form("/me/calendar", from: "/me", **more)
    @path = html[%r{http://[^<]*(/calendar/[A-Za-z0-9_-]+\.ics)}, 1]
  end

  it "gives a wearer as FHIR to a fitter who has shown the password lately, and to nobody else" do
    path = "/patients/#{visit.fitting.patient_id}"
    stub_const("Handrail::Web::Base::CONFIRMED_SECONDS", -1)
    send_form("#{path}/export", from: path)
    expect([last_response.status, text]).to match [422, /Type your password/]
    send_form("#{path}/export", from: path, own_password: Fixtures::PASSWORD)
    expect(last_response.headers["content-type"]).to eq "application/fhir+json"
    expect(JSON.parse(last_response.body).values_at("resourceType", "type")).to eq %w[
         Bundle
         collection
       ]
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get path
    expect(text).not_to include "For another program"
    post "#{path}/export", "own_password" => Fixtures::PASSWORD, "authenticity_token" => token
    expect(last_response.status).to eq 403
    sign_out
    sign_in(make_account(make_clinic))
    get "/patients"
    post "#{path}/export", "own_password" => Fixtures::PASSWORD, "authenticity_token" => token
    expect(last_response.status).to eq 404
  end

  # the files of the zip that was sent: name => bytes
  def unpacked
    zip = Zip::File.open_buffer(last_response.body)
    zip.entries.to_h { |entry| [entry.name, entry.get_input_stream.read] }
  end

  it "gives a wearer as one zip: everything that was written, papers, readings, calendar" do
    later = record(visit).visits.last
    run(later, fitter, :BookVisit, day: (clinic.today + 8).iso8601, time: "09:40")
    command =
      Fixtures::Commands::KeepPaper.new(
        { "kind" => "record" },
        paper: Handrail::Exchange::Paper::Made[bytes: "%PDF-1.4 x", pages: 1]
      )
    Handrail::Store::Ledger.new(visit, fitter).run(command)
    path = "/patients/#{visit.fitting.patient_id}"
    send_form("#{path}/bundle", from: path)
    expect(last_response.headers["content-type"]).to eq "application/zip"
    files = unpacked
    expect(files.keys).to include("patient.json", "readings.csv", "fhir.json", "visits.ics")
    expect(files.find { |name, _| name.start_with?("papers/") }.last).to eq "%PDF-1.4 x"
    told = JSON.parse(files["patient.json"])
    expect(
      JSONSchemer
        .schema(Pathname.new(Handrail::Exchange::PatientBundle::SCHEMA))
        .validate(told)
        .to_a
    ).to be_empty
    fitting = told["fittings"].first
    expect(fitting.values_at("family", "side", "prescriber")).to eq [
         "knee_unloader",
         "left",
         "Dr Spec"
       ]
    first, recheck = fitting["visits"]
    expect(
      first["written"]["readings"]
        .map { |row| row.values_at("typed", "unit", "value_mm", "by") }
        .uniq
    ).to eq [["36.5", "cm", "365.0", fitter.name]]
    expect(first["written"].keys).to include(
      "hand_overs",
      "teach_backs",
      "check_results",
      "issued_devices"
    )
    expect(recheck["planned_for"]).to eq later.refresh.planned_for.utc.iso8601
    rows = CSV.parse(files["readings.csv"], headers: true)
    expect(rows.map { |row| row.values_at("site", "side", "value", "mm", "counts") }.uniq).to eq [
         [CoreHelpers::CALF, "left", "36.5", "365.0", "yes"]
       ]
    expect(
      Icalendar::Calendar.parse(files["visits.ics"]).first.events.map { |one| one.uid.to_s }
    ).to include("visit-#{later.id}@#{clinic.key}.handrail")
    expect(files["patient.json"]).not_to include("clinic_id", "password")
  end

  it "writes nothing into a spreadsheet that it would run" do
    wearer = make_patient(clinic, fitter, record_number: "=cmd", given_name: "A", family_name: "B")
    ordered = make_visit(clinic, fitter, patient: wearer)
    ask(ordered, fitter)
    take(ordered, fitter, "36.5")
    send_form("/patients/#{wearer.id}/bundle", from: "/patients/#{wearer.id}")
    expect(CSV.parse(unpacked["readings.csv"], headers: true).first["record_number"]).to eq "'=cmd"
  end

  it "feeds a calendar by a private address, by initials and device, without a sign-in" do
    later = record(visit).visits.last
    run(later, fitter, :BookVisit, day: (clinic.today + 8).iso8601, time: "09:40")
    make_address
    sign_out
    event = feed.events.find { |one| one.uid == "visit-#{later.id}@#{clinic.key}.handrail" }
    expect(event.summary.to_s).to eq "W. Q.: left knee unloader, inner side"
    expect(event.status.to_s).to eq "CONFIRMED"
    expect(clinic.zone.to_local(event.dtstart.to_time.getutc).strftime("%H:%M")).to eq "09:40"
    expect(last_response.body).not_to include("Quarrel", "arthrosis")
  end

  it "says neither device nor side in the front desk's feed" do
    later = record(visit).visits.last
    run(later, fitter, :BookVisit, day: (clinic.today + 8).iso8601, time: "09:40")
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    make_address
    event = feed.events.find { |one| one.uid == "visit-#{later.id}@#{clinic.key}.handrail" }
    expect(event.summary.to_s).to eq "W. Q.: recheck"
    expect(last_response.body).not_to match(/unloader|left|inner/)
  end

  it "keeps a visit's UID when it moves, counts SEQUENCE up, and sends what is called off as cancelled" do
    later = record(visit).visits.last
    run(later, fitter, :BookVisit, day: (clinic.today + 8).iso8601, time: "09:40")
    make_address
    one = -> do
      feed.events.find { |event| event.uid == "visit-#{later.id}@#{clinic.key}.handrail" }
    end
    before = one.call.sequence
    run(later, fitter, :BookVisit, day: (clinic.today + 9).iso8601, time: "10:20")
    expect([one.call.sequence > before, one.call.dtstart.to_date]).to eq [true, clinic.today + 9]
    run(visit, fitter, :EndFitting, why: "healed, no device needed")
    expect(one.call.status.to_s).to eq "CANCELLED"
  end

  it "ends an address when another is made, when it is ended, and with the account" do
    first = make_address
    second = make_address
    expect([first == second, get(first).status, get(second).status]).to eq [false, 404, 200]
    send_form("/me/calendar", from: "/me", revoke: "yes")
    expect(get(second).status).to eq 404
    third = make_address
    fitter.update(status_id: 3)
    expect(get(third).status).to eq 404
  end

  it "tells nothing to who guesses" do
    sign_out
    ["x" * 43, "..%2f..%2fetc", "#{"a" * 43}.ics"].each do |guess|
      get "/calendar/#{guess}.ics"
      expect([guess, [302, 404].include?(last_response.status)]).to eq [guess, true]
      expect(last_response.body).not_to include "BEGIN:VCALENDAR"
    end
    expect(Handrail::Store.db[:calendar_keys].where(Sequel.like(:digest, "%x%")).count).to eq 0
  end
end

# frozen_string_literal: true

require "web_helper"

RSpec.describe "A patient's record as a whole", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:senior) { make_account(clinic, "senior") }
  let(:patient) { make_patient(clinic, fitter) }
  let(:page) { "/patients/#{patient.id}" }

  it "is put to rest with its reason and woken again, by whoever is at the desk" do
    sign_in(make_account(clinic, "front_desk"))
    send_form("#{page}/rest", from: page, rest: "moved_away", on: "31.2.2026", said: "the daughter")
    expect([last_response.status, text]).to match [422, /no day of the calendar/]
    expect(html).to include 'value="31.2.2026"', 'value="the daughter"'
    send_form(
      "#{page}/rest",
      from: page,
      rest: "moved_away",
      on: clinic.today.iso8601,
      said: "the daughter"
    )
    follow_redirect!
    expect(text).to include("Moved away").and include "said by the daughter"
    send_form("#{page}/rest", from: page, rest: "")
    expect(patient.refresh.rest).to be_nil
  end

  it "is joined into another one and parted, by a senior alone" do
    other = make_patient(clinic, fitter, record_number: "HQ 0412", given_name: "Zoe")
    sign_in(fitter)
    get page
    expect(text).not_to include "The same person has another record"
    send_form("#{page}/join", from: page, into: "HQ 0412", why: "written down twice")
    expect(last_response.status).to eq 403
    sign_out
    sign_in(senior)
    send_form("#{page}/join", from: page, into: "none", why: "written down twice")
    expect(html).to include 'value="none"', "There is no record none."
    send_form("#{page}/join", from: page, into: "HQ 0412", why: "written down twice")
    expect(last_response.headers["location"]).to end_with "/patients/#{other.id}"
    get page
    expect(text).to match(/This record is joined into that of Zoe Quarrel ?, HQ 0412/)
    send_form("#{page}/part", from: page)
    expect(patient.refresh.joined_into_id).to be_nil
  end

  it "is never taken for another one whose name is nearly so: that is said, and Enter opens none of them" do
    make_patient(clinic, fitter, given_name: "Zoe", family_name: "Barlowe")
    sign_in(fitter)
    get "/find", "q" => "barlowe"
    expect(html).to include 'data-asked="barlowe"'
    expect(text).not_to include "Nearly so"
    get "/find", "q" => "marlowe"
    expect(text).to include "Nobody of that name. Nearly so: Zoe Barlowe"
    expect(html).not_to include "data-asked"
    get "/patients/", "q" => "marlowe"
    expect(text).to include "Nobody of that name. Nearly so:"
  end
end

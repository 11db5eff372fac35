# frozen_string_literal: true

require "web_helper"

# A group of clinics: its office, people who work in two of them, wearers who go from one to another, and what the
# office publishes.
RSpec.describe "A group of clinics" do
  let(:store) { Handrail::Store }
  let(:office) do
    form = {
      "name" => "Shore Group",
      "place" => "Heron Quay",
      "phone" => "1",
      "time_zone" => "Europe/London",
      "tape" => "cm 1 mm",
      "person" => "Odile Marsh",
      "email" => "odile-#{SecureRandom.hex(3)}@spec.example",
      "password" => Fixtures::PASSWORD,
      "again" => Fixtures::PASSWORD
    }
    store::SetUp.make(form, office: true)
  end
  let(:harbour) { make_clinic("Harbour Orthotics") }
  let(:inland) { make_clinic("Inland Orthotics") }
  let(:senior) { make_account(harbour, "senior") }
  let(:fitter) { make_account(harbour) }
  let(:there) { make_account(inland).tap { |one| one.update(name: "Thea There") } }

  # whoever was signed in is not any more
  def sign_in(*)
    sign_out
    super
  end

  # as it is read
  def text = CGI.unescapeHTML(super)

  def join(*clinics)
    clinics.each { |one| one.update(group_key: office.clinic.key, group_name: office.clinic.name) }
  end

  def code
    sign_in(office)
    send_form("/group/codes", from: "/group")
    html[/aria-label="The code"/] && html[/readonly value="([^"]+)" aria-label="The code"/, 1]
  end

  describe "its office" do
    it "makes a code that works once, by which a senior joins; and sees the clinic from then on" do
      joins = code
      sign_in(senior)
      send_form("/group/join", from: "/group", code: "nonsense")
      expect(last_response.status).to eq 422
      expect(text).to include store::Group::CODE_GONE
      send_form("/group/join", from: "/group", code: joins)
      expect(last_response.status).to eq 303
      expect(harbour.refresh.group_name).to eq "Shore Group"
      sign_in(make_account(inland, "senior"))
      send_form("/group/join", from: "/group", code: joins)
      expect(text).to include store::Group::CODE_GONE
      sign_in(office)
      get "/group"
      expect(text).to include("Harbour Orthotics Elsewhere 1 0 0 0 0 –")
    end

    it "counts visits, devices and overdue rechecks of each clinic and of all, as a page and as a file" do
      join(harbour, inland)
      visit = make_visit(harbour, fitter)
      visit.update(
        opened_at: store.now,
        opened_by: fitter.id,
        closed_at: store.now,
        closed_by: fitter.id
      )
      make_visit(inland, there)
      store::Visit.create(
        clinic_id: harbour.id,
        fitting_id: visit.fitting_id,
        purpose: "recheck",
        plan_key: "early",
        due_from: harbour.today - 20,
        due_to: harbour.today - 10
      )
      sign_in(office)
      get "/group"
      expect(text).to include(
        "Harbour Orthotics Elsewhere 1 1 1 0 1 – Inland Orthotics Elsewhere 1 0 0 0 0"
      )
      expect(text).to include("All of them 2 1 1 0 1")
      get "/group/figures.csv"
      expect(last_response.body.lines).to include "Harbour Orthotics,Elsewhere,1,1,1,0,1,0,0\n"
      get "/group?month=2199-01"
      expect(last_response.status).to eq 200
    end

    it "never sees a patient, by page or by database" do
      join(harbour)
      patient = make_patient(harbour, fitter)
      sign_in(office)
      %W[
        /patients/#{patient.id}
        /patients
        /week
        /report
        /visits/1
        /tapes
        /settings
        /handbook
        /catalogue/1/coverage
      ].each do |path|
        get path
        expect([path, last_response.status]).to eq [path, 404]
      end
      get "/"
      expect(last_response.location).to end_with "/group"
      get "/group"
      expect(html).not_to include "Find a patient"
      own = {
        clinic_id: office.clinic_id,
        record_number: "1",
        family_name: "X",
        born_on: Date.new(1980, 1, 1)
      }
      expect { store::Patient.create(**own) }.to raise_error(
        Sequel::CheckConstraintViolation,
        /no patients/
      )
    end

    it "is there for nobody else, and a clinic that left is seen no more" do
      join(harbour)
      sign_in(fitter)
      get "/group/figures.csv"
      expect(last_response.status).to eq 404
      send_form("/group/leave", from: "/group")
      expect(last_response.status).to eq 403
      sign_in(senior)
      send_form("/group/leave", from: "/group")
      expect(harbour.refresh.group_key).to be_nil
      expect(store::Group.clinics(office.clinic.key)).to be_empty
    end
  end

  describe "somebody who works in two clinics" do
    before { join(harbour, inland) }

    def shown
      send_form("/me/places", from: "/me/places", email: there.email, password: Fixtures::PASSWORD)
    end

    it "shows it once by the other password, signs in and chooses" do
      sign_in(fitter)
      send_form("/me/places", from: "/me/places", email: there.email, password: "wrong")
      expect(text).to include "or not its password"
      shown
      expect(last_response.status).to eq 303
      sign_in(fitter)
      expect(last_response.location).to end_with "/me/places"
      get "/me/places"
      place = html[%r{action="/me/go/(\d+)"}, 1]
      send_form("/me/go/#{place}", from: "/me/places")
      get "/"
      expect(text).to include there.name
      expect(text).not_to include fitter.name
      get "/me/places"
      expect(html).to include "Harbour Orthotics"
      mine = store.db[:account_active_session_keys].where(account_id: fitter.id).count
      expect(mine).to eq 1 # that of the first sign-in, which was left without signing out
    end

    it "goes nowhere once one of both has ended it, is closed, or left the group" do
      sign_in(fitter)
      shown
      expect(store::Places.of(fitter).map { |one| one.account.id }).to eq [there.id]
      there.update(status_id: 3)
      expect(store::Places.of(fitter)).to be_empty
      there.update(status_id: 2)
      inland.update(group_key: nil, group_name: nil)
      expect(store::Places.of(fitter.refresh)).to be_empty
      join(inland)
      store.db[:work_places].where(account_id: there.id).delete
      expect(store::Places.of(fitter)).to be_empty
      post "/me/go/999999", "authenticity_token" => token
      expect(last_response.status).to be >= 400
    end

    it "ends it with one tap, in both directions, and a second tap does no harm" do
      sign_in(fitter)
      shown
      get "/me/places"
      way = html[%r{action="(/me/places/\d+/end)"}, 1]
      2.times do
        send_form(way, from: "/me/places")
        expect(last_response.status).to eq 303
      end
      get "/me/places"
      expect(html).not_to match(%r{/me/go/\d})
      expect([store::Places.of(fitter.refresh), store::Places.of(there.refresh)]).to eq [[], []]
    end

    it "is told nothing of accounts outside the group" do
      outside = make_account(make_clinic)
      sign_in(fitter)
      send_form(
        "/me/places",
        from: "/me/places",
        email: outside.email,
        password: Fixtures::PASSWORD
      )
      expect(text).to include "That is no account at another clinic of this group"
      expect(store.db[:work_places].where(account_id: [fitter.id, outside.id]).count).to eq 0
    end
  end

  describe "a wearer who goes to another clinic" do
    before { join(harbour, inland) }

    let(:patient) { make_patient(harbour, fitter, record_number: "H 77") }

    def send_there(**changes)
      sign_in(fitter)
      form = {
        to: inland.id,
        consent_by: "Wilma herself",
        consent_on: store::Clinic[harbour.id].today.iso8601
      }
      send_form("/patients/#{patient.id}/send", from: "/patients/#{patient.id}", **form, **changes)
    end

    it "goes with their consent, and both records name each other" do
      send_there
      expect(last_response.status).to eq 303
      get "/patients/#{patient.id}"
      expect(text).to match(
        /Sent to Inland Orthotics .* Wilma herself said yes to it .* Not taken there yet/
      )
      sign_in(there)
      get "/"
      expect(text).to match(/From other clinics .* Wilma Quarrel , from Harbour Orthotics/)
      get "/patients/coming"
      look = html[%r{action="(/patients/coming/\d+/look)"}, 1]
      send_form(look, from: "/patients/coming")
      expect(text).to include "The whole record of Harbour Orthotics comes with it"
      fields =
        last_response.body.scan(
          /<input type="hidden" name="(rows|file|coming|page|entry_key|authenticity_token)" value="([^"]*)"/
        )
      post("/patients/bundle/all", fields.to_h.transform_values { |value| CGI.unescapeHTML(value) })
      expect(last_response.status).to eq 303
      get last_response.location
      expect(text).to include("From other clinics Harbour Orthotics")
      get "/patients/coming"
      expect(text).to include "None waits here"
      expect(store.db[:coming_records].where(clinic_id: inland.id).get(:bytes)).to be_nil
      sign_in(fitter)
      get "/patients/#{patient.id}"
      expect(text).to include("There it is record H 77, Inland Orthotics")
    end

    it "goes not without a consent, nor to a clinic of no group, nor twice at once" do
      send_there(consent_by: "", consent_on: "31.2.2026")
      expect(last_response.status).to eq 422
      expect(text).to include "Write who said yes to it"
      send_there(consent_on: "12 Mar 2199")
      expect(text).to include "That day has not come yet"
      send_there(to: make_clinic.id)
      expect(text).to include "Choose a clinic of this group"
      send_there
      send_there
      expect(text).to include "It is on its way there already"
      expect(store.db[:coming_records].where(clinic_id: inland.id).count).to eq 1
    end

    it "is not taken by who does not want it, and is nobody else's" do
      send_there
      sign_in(make_account(make_clinic))
      id = store.db[:coming_records].where(clinic_id: inland.id).get(:id)
      send_form("/patients/coming/#{id}/look", from: "/patients/coming")
      expect(last_response.status).to eq 404
      sign_in(there)
      send_form("/patients/coming/#{id}/refuse", from: "/patients/coming")
      get "/patients/coming"
      expect(text).to include "None waits here"
      sign_in(fitter)
      get "/patients/#{patient.id}"
      expect(text).to match(/not taken Sent to Inland Orthotics .* It was not taken there/)
      send_there
      expect(store.db[:coming_records].where(clinic_id: inland.id, ended_at: nil).count).to eq 1
    end

    it "is asked after by the clinic that sent it, which could not be told when it was not taken, or taken" do
      allow(store::SentRecords).to receive(:tell)
      send_there
      id = store.db[:sent_records].where(patient_id: patient.id).get(:id)
      ask = -> do
        sign_in(fitter)
        send_form("/patients/#{patient.id}/sent/#{id}", from: "/patients/#{patient.id}")
        get "/patients/#{patient.id}"
        text
      end
      expect(ask.call).to include "Not taken there yet"
      coming = store.db[:coming_records].where(clinic_id: inland.id)
      sign_in(there)
      send_form("/patients/coming/#{coming.get(:id)}/refuse", from: "/patients/coming")
      sign_in(fitter)
      get "/patients/#{patient.id}"
      expect(text).to include "Not taken there yet"
      expect(ask.call).to match(/It was not taken there, on .* It can be sent again/)
      send_there
      id = store.db[:sent_records].where(patient_id: patient.id, taken_at: nil).get(:id)
      store::SentRecords.end_here(
        inland,
        coming.where(ended_at: nil).get(:id),
        by: there.id,
        record: "IN 9"
      )
      expect(ask.call).to include "There it is record IN 9, Inland Orthotics"
    end
  end

  describe "what the office publishes" do
    before { join(harbour) }

    it "is looked at beside the clinic's own wearers and taken by a senior" do
      product = make_product(office.clinic)
      sign_in(senior)
      get "/catalogue/group"
      expect(text).to match(/Specwright #{product.name} Knee unloader .* not here yet/)
      send_form("/catalogue/group/#{product.id}", from: "/catalogue/group")
      expect(last_response.status).to eq 200
      expect(text).to include "Shore Group"
      own = store::Product.first(clinic_id: harbour.id, name: product.name)
      expect(own.revision(harbour.today)).to be_nil
      rows = store::ChartRevision.in_force([product.id], on: harbour.today).fetch(product.id).rows
      store::ChartRevision.add(own, rows, dated: harbour.today)
      get "/catalogue/group"
      expect(text).to match(/#{product.name} .* as here/)
    end

    it "is offered to no clinic outside, and to no fitter" do
      make_product(office.clinic)
      sign_in(fitter)
      get "/catalogue/group"
      expect(last_response.status).to eq 403
      sign_in(make_account(inland, "senior"))
      get "/catalogue/group"
      expect(last_response.status).to eq 404
    end
  end
end

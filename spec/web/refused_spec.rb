# frozen_string_literal: true

require "web_helper"
require "nokogiri"

# What was refused for what was typed: what is wrong is said, also where it is of no field, and what somebody else wrote
# meanwhile is told before anything takes its place.
RSpec.describe "A form that was refused", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:senior) { make_account(clinic, "senior") }
  let(:other) { make_account(clinic, "senior") }
  let(:patient) { make_patient(clinic, senior) }
  let(:visit) { make_visit(clinic, senior, patient: patient) }

  before { sign_in(senior) }

  def said = Nokogiri.HTML(last_response.body).css("[role=alert]").text.gsub(/\s+/, " ")

  # a form of the page as a browser would send it: name => value, what is not chosen left out
  def form(css, page = last_response.body)
    found = Nokogiri.HTML(page).at_css(css)
    found
      .css("input, select, textarea")
      .each_with_object({}) do |field, all|
        next if field["name"].nil? || field["name"].end_with?("[]")
        next if %w[radio checkbox].include?(field["type"]) && !field.key?("checked")

        all[field["name"]] = case field.name
        when "select"
          (field.at_css("[selected]") || field.at_css("option"))&.[]("value").to_s
        when "textarea"
          field.text
        else
          field["value"].to_s
        end
      end
  end

  # sends the form of a page with what is wrong, then what came back with that put right
  def refused_then(path, css, wrong:, right:, to: path)
    get path
    first = form(css)
    yield
    post to, first.merge(wrong)
    expect([last_response.status, said]).to match [422, /\S/]
    again = form(css)
    post to, again.merge(right)
  end

  describe "that takes the place of what stood there" do
    it "does not undo what a colleague changed at a patient" do
      path = "/patients/#{patient.id}"
      wrong = { "note" => "n" * 1001, "phone" => "77" }
      refused_then("#{path}/edit", "#patient", to: path, wrong: wrong, right: { "note" => "n" }) do
        patient.update(phone: "55", version: patient.version + 1)
      end
      expect([last_response.status, said]).to match [409, /changed while your page was open/]
      expect(patient.refresh.phone).to eq "55"
      post path, form("#patient")
      expect([last_response.status, patient.refresh.phone, patient.note]).to eq [303, "77", "n"]
    end

    it "does not undo another senior's settings" do
      path = "/settings/clinic"
      wrong = { "place" => "p" * 81, "phone" => "77" }
      refused_then(path, "#settings-form", wrong: wrong, right: { "place" => "Elsewhere" }) do
        clinic.update(phone: "55")
      end
      expect([last_response.status, clinic.refresh.phone]).to eq [409, "55"]
      post path, form("#settings-form")
      expect([last_response.status, clinic.refresh.phone, clinic.place]).to eq [
           303,
           "77",
           "Elsewhere"
         ]
    end

    it "does not undo another senior's options of a product" do
      product = make_product(clinic)
      path = "/catalogue/#{product.id}"
      get path
      sent = form("#options").merge("options[calf_strap]" => "long")
      product.update(offered: false)
      post path, sent
      expect([last_response.status, said]).to match [422, /changed while your page was open/]
      post path, form("#options")
      expect([last_response.status, said]).to match [422, /long/]
      expect(product.refresh.offered).to be false
    end

    it "puts no chart in the place of one that came while another was mended" do
      product = make_product(clinic)
      path = "/catalogue/#{product.id}/chart"
      later = { "dated" => (clinic.today + 1).iso8601 }
      wrong = { "rows[0][min]" => "thirty", **later }
      refused_then(path, "#chart", wrong: wrong, right: { "rows[0][min]" => "32" }) do
        rows = product.revision(clinic.today).rows
        Handrail::Store::ChartRevision.add(product, rows, dated: clinic.today, tie_rule: "larger")
      end
      expect([last_response.status, said]).to match [
              422,
              /Another chart was put in force meanwhile/
            ]
      expect(Handrail::Store::ChartRevision.where(product_id: product.id).count).to eq 2
    end

    it "does not undo the hours that somebody wrote down for themselves" do
      person = make_account(clinic)
      path = "/people/#{person.id}/hours"
      get path
      sent = form("#hours-form").merge("hours[mon]" => "08:00-09:00")
      person.update(hours: Handrail::Store.json("tue" => "10:00-11:00"))
      post path, sent
      expect([last_response.status, said]).to match [
              422,
              /changed while your page was open.*tue 10:00-11:00/
            ]
      expect(person.refresh.hours.to_h).to eq("tue" => "10:00-11:00")
      post path, form("#hours-form")
      expect([last_response.status, person.refresh.hours.to_h]).to eq [
           303,
           { "mon" => "08:00-09:00" }
         ]
    end

    it "does not undo another's correction of an order" do
      path = "/visits/#{visit.id}/amend"
      to = "/visits/#{visit.id}/correct-order"
      wrong = { "prescriber" => "Dr Mine", "why" => "" }
      refused_then(path, "#correct", to: to, wrong: wrong, right: { "why" => "as it stands" }) do
        run(
          visit,
          other,
          :CorrectOrder,
          side: "left",
          prescriber: "Dr Theirs",
          prescribed_on: clinic.today.iso8601,
          product_id: visit.fitting.product_id.to_s,
          fields: visit.fitting.prescription.fields.to_h,
          why: "the letter says so"
        )
      end
      expect([last_response.status, said]).to match [409, /Dr Theirs/]
      expect(record(visit).prescription.prescriber).to eq "Dr Theirs"
      post to, form("#correct")
      expect(record(visit).prescription.prescriber).to eq "Dr Mine"
    end

    it "does not undo another's move of a first appointment" do
      path = "/patients/#{patient.id}/first"
      slot = ->(days) { { "day" => (clinic.today + days).iso8601, "time" => "10:00" } }
      get path
      post path, form("#first").merge("what" => "knee", **slot[3])
      expect(last_response.status).to eq 303
      wrong = { "what" => "", **slot[4] }
      refused_then(path, "#first", wrong: wrong, right: { "what" => "hip" }) do
        desk(clinic, other).run(
          Fixtures::Commands::BookFirst.new("patient" => patient.id, "what" => "knee", **slot[5])
        )
      end
      expect([last_response.status, said]).to match [422, /moved meanwhile/]
      post path, form("#first")
      expect(last_response.status).to eq 303
      row, = Handrail::Store::Newcomers.of(clinic, patient.id)
      expect(row.values_at(:what, :planned_for)).to eq [
           "hip",
           clinic.moment(clinic.today + 4, 10, 0)
         ]
    end
  end

  describe "for what is of no field" do
    def twice(path, css, to: path, **changes)
      get path
      sent = form(css)
      changes.each_value { |values| post to, sent.merge(values.transform_keys(&:to_s)) }
      expect([last_response.status, said]).to match [
              409,
              /same entry was sent before with other values/
            ]
      expect(said).not_to include("field needs")
    end

    let(:born) { { born_on: "1 Feb 1950", another: "yes" } }

    it "is said of a new patient, a changed one, and an order" do
      one = { given_name: "Ada", family_name: "Holm", record_number: "R 1", **born }
      twice("/patients/new", "#patient", to: "/patients", one: one, other: one.merge(phone: "4"))
      path = "/patients/#{patient.id}"
      twice("#{path}/edit", "#patient", to: path, one: { phone: "1" }, other: { phone: "2" })
      expect(patient.refresh.phone).to eq "1"
      make_product(clinic)
      order = { side: "left", prescriber: "Dr A", prescribed_on: clinic.today.iso8601 }
      order[:"fields[compartment]"] = "medial"
      order[:"fields[indication]"] = "arthrosis"
      twice(
        "#{path}/orders/new?family=knee_unloader",
        "#order",
        to: "#{path}/orders",
        one: order,
        other: order.merge(prescriber: "Dr B")
      )
      expect(visits_of(patient).size).to eq 1
    end

    def visits_of(patient) = Handrail::Store::Fitting.where(patient_id: patient.id).all

    it "is said of settings" do
      twice("/settings/clinic", "#settings-form", one: { phone: "1" }, other: { phone: "2" })
      expect(clinic.refresh.phone).to eq "1"
    end

    it "is said of an order of what is no longer fitted here, and of a wearer who has died" do
      make_product(clinic)
      path = "/patients/#{patient.id}/orders"
      get "#{path}/new?family=knee_unloader"
      sent = form("#order").merge("side" => "left")
      post path, sent.merge("family" => "none")
      expect([last_response.status, said]).to match [422, /Choose the device/]
      patient.update(rest: "died", rest_on: clinic.today, rest_said: "letter")
      post path, sent.merge("prescriber" => "")
      expect([last_response.status, said]).to match [422, /fields need a look. .*died/]
    end
  end
end

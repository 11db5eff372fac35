# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

# What the clinic knows already is not asked again; what it can not know is not proposed.
RSpec.describe "What is known already", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  it "proposes the next record number where numbers are counted, one that is free" do
    %w[7 8 10].each { |n| make_patient(clinic, fitter, record_number: "HQ 00#{n.rjust(2, "0")}") }
    get "/patients/new"
    expect(html).to include 'value="HQ 0011"'
    make_patient(clinic, fitter, record_number: "X-1")
    get "/patients/new"
    expect(html).to match(/id="record_number"[^>]*value=""/)
  end

  it "proposes who prescribed last and the product that was ordered last, and never the day of a prescription" do
    one = make_product(clinic)
    other = make_product(clinic)
    visit = make_visit(clinic, fitter, product: other, prescriber: "Dr Ansel")
    get "/patients/#{visit.fitting.patient_id}/orders/new?family=knee_unloader"
    expect(html).to match(/id="prescriber"[^>]*value="Dr Ansel"/)
    expect(html).to include 'id="prescribed_on" name="prescribed_on" value=""'
    expect(html).to match(/value="#{other.id}" checked/)
    expect(html).not_to match(/value="#{one.id}" checked/)
    expect(text).to include "Has already: left knee unloader, inner side, ordered"
  end

  it "says of each product what its choices mean, in words" do
    product = demo_product("anti_embolism_stocking")
    patient = make_patient(clinic, fitter)
    get "/patients/#{patient.id}/orders/new?family=anti_embolism_stocking"
    option = product.device_family.options.find(&:choice?)
    chosen = option.choice(product.options[option.key] || option.default)
    expect(text).to include(chosen.says || "#{option.label}: #{chosen.label.downcase}.")
    expect(html).not_to include "struct"
  end

  it "shows at a recheck what was to be taken care of before, ticked until it is unticked" do
    worn = fitted_visit(clinic, fitter)
    ask(worn, fitter, care: %w[diabetes])
    teach(worn, fitter)
    hand_over(worn, fitter)
    later = record(worn).visits.last
    get "/visits/#{later.id}/order"
    expect(html).to include 'value="diabetes" checked', "as answered on"
    expect(html).not_to match(/name="stops\[\]" value="\w+" checked/)
    expect(html).not_to include 'name="identity" value="yes" checked'
    ask(later, fitter, care: [])
    expect(record(later).safety.care).to eq []
  end

  it "takes pressures over while they hold, with the day on which they were measured" do
    later = recheck_of("compression_wrap")
    get "/visits/#{later.id}/order"
    day = Handrail::Quantity::Day.write(clinic.today)
    expect(html).to include "Measured #{day}, holds until"
    typed = record(later).safety.pressures_before.first
    run(later, fitter, :AskCautions, identity: "yes", stops: [], pressures: typed)
    expect(record(later).safety.questions[:pressures]["measured_on"]).to eq clinic.today.iso8601
    get "/visits/#{later.id}/record"
    expect(text).to include "Measured on #{day}."
  end

  it "has pressures measured again once their time has passed, counted from the day they were measured" do
    later = recheck_of("compression_wrap")
    typed = record(later).safety.pressures_before.first
    Handrail::Store.at(Handrail::Store.now + (92 * 86_400)) do
      expect(record(later).safety.pressures_before).to be_nil
    end
    run(
      later,
      fitter,
      :AskCautions,
      identity: "yes",
      stops: [],
      pressures: typed.merge("arm_left" => "131")
    )
    expect(record(later).safety.questions[:pressures]["measured_on"]).to be_nil
  end
end

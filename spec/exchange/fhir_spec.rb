# frozen_string_literal: true

require "store_helper"
require "fhir_models"

# One wearer as FHIR R4, held against the models of the standard.
RSpec.describe Handrail::Exchange::Fhir, :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) do
    fitted_visit(clinic, fitter).tap do |made|
      run(made, fitter, :WriteWord, pain_without: "7", pain_with: "4", place: "inner side")
      run(
        made,
        fitter,
        :TakeLimbGirths,
        girths: {
          "left:0" => "24",
          "left:40" => "26"
        },
        unit: "cm"
      )
      teach(made, fitter)
      hand_over(made, fitter)
      run(made, fitter, :AddNote, text: "called back")
    end
  end

  def bundle(of = visit)
    visits = Handrail::Store::Visits.of_fittings(clinic, [of.fitting_id]).values.flatten
    described_class.new(clinic, of.fitting.patient, visits).bundle
  end

  def kinds(made) = made["entry"].map { |entry| entry["resource"]["resourceType"] }.tally

  it "is sound by the models of R4, every resource of it" do
    run(
      record(visit).visits.last,
      fitter,
      :BookVisit,
      day: (clinic.today + 8).iso8601,
      time: "09:40"
    )
    made = FHIR.from_contents(JSON.generate(bundle))
    expect(made.validate).to eq({})
    faults = made.entry.to_h { |entry| [entry.fullUrl, entry.resource.validate] }
    expect(faults.reject { |_, found| found.empty? }).to eq({})
  end

  it "has what was ordered, used, read, said, done, booked and planned, and who wrote it" do
    run(
      record(visit).visits.last,
      fitter,
      :BookVisit,
      day: (clinic.today + 8).iso8601,
      time: "09:40"
    )
    expect(kinds(bundle)).to include(
      "Organization" => 1,
      "Patient" => 1,
      "ServiceRequest" => 1,
      "Device" => 1,
      "DeviceUseStatement" => 1,
      "Procedure" => 1,
      "Appointment" => 1,
      "CarePlan" => 1,
      "Provenance" => 1
    )
    observations =
      bundle["entry"]
        .map { |entry| entry["resource"] }
        .select { |one| one["resourceType"] == "Observation" }
    codes = observations.map { |one| one["code"]["coding"].first["code"] }
    expect(codes.tally).to eq("length" => 2, "72514-3" => 2, "limb-volume" => 1)
    girth = observations.find { |one| one["code"]["coding"].first["code"] == "length" }
    expect(girth["valueQuantity"]).to eq(
      "value" => 365.0,
      "unit" => "mm",
      "system" => "http://unitsofmeasure.org",
      "code" => "mm"
    )
    expect(girth["bodySite"]["coding"].map { |coding| coding["code"] }).to eq [
         CoreHelpers::CALF,
         "7771000"
       ]
  end

  it "names nothing twice, and refers to nothing that is not in it" do
    made = bundle
    urls = made["entry"].map { |entry| entry["fullUrl"] }
    expect(urls.uniq).to eq urls
    there =
      made["entry"].map { |entry| entry["resource"].values_at("resourceType", "id").join("/") }
    named = JSON.generate(made).scan(/"reference":"([^"]+)"/).flatten.uniq
    expect(named - there).to eq []
  end

  it "sends no reading that was struck out, corrected or is still asked about" do
    open = sized_visit(clinic, fitter)
    before = kinds(bundle(open))["Observation"]
    take(open, fitter, "14", unit: "cm")
    expect(kinds(bundle(open))["Observation"]).to eq before
    run(
      open,
      fitter,
      :StrikeReading,
      row: record(open).usable_readings.first[:id],
      reason: "slipped"
    )
    expect(kinds(bundle(open))["Observation"]).to eq before - 1
  end

  it "uses public codes only where they are certain" do
    systems = JSON.generate(bundle).scan(/"system":"([^"]+)","code":"([^"]+)"/).uniq
    public_codes =
      systems.reject { |system, _| system.start_with?("urn:") || system.include?("unitsofmeasure") }
    expect(public_codes).to contain_exactly(
      %w[http://loinc.org 72514-3],
      %w[http://snomed.info/sct 7771000],
      %w[http://terminology.hl7.org/CodeSystem/observation-category exam]
    )
  end
end

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

  # what a reference of a bundle stands for
  def at(made, reference) =
    made["entry"].find { |entry| entry["fullUrl"] == reference["reference"] }.fetch("resource")

  def address(key, name)
    clinic.values[:key] = key
    described_class.new(clinic, nil, []).send(:address, name)
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
      "BodyStructure" => 3
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
    expect(girth["bodySite"]["coding"].map { |coding| coding["code"] }).to eq [CoreHelpers::CALF]
    place = at(bundle, girth["extension"].first["valueReference"])
    expect(place["locationQualifier"].first["coding"].first["code"]).to eq "7771000"
  end

  it "has one coding a concept, and names entries by addresses of their own, the same whenever they are sent" do
    said = JSON.generate(bundle)
    expect(
      said.scan(/"coding":\[([^\]]*)\]/).flatten.reject { |one| one.scan("{").size == 1 }
    ).to eq []
    urls = bundle["entry"].map { |entry| entry["fullUrl"] }
    # RFC 4122: version 5, of the variant that it describes
    expect(urls).to all(match(/\Aurn:uuid:\h{8}-\h{4}-5\h{3}-[89ab]\h{3}-\h{12}\z/))
    expect(bundle["entry"].map { |entry| entry["fullUrl"] }).to eq urls
    other = make_clinic
    elsewhere = described_class.new(other, visit.fitting.patient, []).bundle
    expect(elsewhere["entry"].map { |entry| entry["fullUrl"] } & urls).to eq []
  end

  it "says of every observation who wrote it and when, and which of them were put right" do
    row = record(visit).usable_readings.first
    run(visit, fitter, :CorrectReading, corrects: row[:id], value: "36.7", why: "typed wrong")
    made = bundle
    resources = made["entry"].to_h { |entry| [entry["fullUrl"], entry["resource"]] }
    kinds = resources.values.group_by { |one| one["resourceType"] }
    told = kinds["Provenance"].flat_map { |one| one["target"].map { |target| target["reference"] } }
    observed = resources.select { |_, one| one["resourceType"] == "Observation" }
    expect(told.tally.slice(*observed.keys)).to eq(observed.keys.to_h { |url| [url, 1] })
    corrected = observed.values.select { |one| one["status"] == "corrected" }
    expect(corrected.map { |one| one["valueQuantity"]["value"] }).to eq [367.0]
    # the published example's hash of RFC 4122, appendix B, with its errata: DNS, www.example.com
    expect(address("6ba7b810-9dad-11d1-80b4-00c04fd430c8", "www.example.com")).to eq(
      "urn:uuid:2ed6657d-e927-568b-95e1-2665a8aea6a2"
    )
  end

  it "names nothing twice, and refers to nothing that is not in it" do
    made = bundle
    urls = made["entry"].map { |entry| entry["fullUrl"] }
    expect(urls.uniq).to eq urls
    there = urls
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

  it "is read in as its page shows an observation" do
    page = File.read(File.join(Handrail::ROOT, "docs", "formats", "fhir.md"))
    shown = JSON.parse(page[/```json\n(.*?)```/m, 1])
    wearer, place =
      [shown["subject"], shown["extension"].first["valueReference"]].map { |one| one["reference"] }
    side = { "coding" => [{ "system" => described_class::SNOMED, "code" => "24028007" }] }
    whole = {
      "resourceType" => "Bundle",
      "entry" => [
        { "resource" => shown },
        {
          "fullUrl" => place,
          "resource" => {
            "resourceType" => "BodyStructure",
            "locationQualifier" => [side]
          }
        },
        {
          "fullUrl" => wearer,
          "resource" => {
            "resourceType" => "Patient",
            "birthDate" => "1961-03-14",
            "identifier" => [{ "value" => "C 77" }]
          }
        }
      ]
    }
    expect(Handrail::Exchange::FhirIn.read(JSON.generate(whole)).readings.first.last).to eq(
      "record_number" => "C 77",
      "date" => "2025-03-14",
      "site" => "calf_widest",
      "side" => "right",
      "posture" => "standing",
      "tension" => "snug",
      "value" => "365",
      "unit" => "mm"
    )
  end

  it "takes the number of the system that the clinic has chosen, and asks where none is" do
    numbers = [{ "system" => "urn:a", "value" => "A 1" }, { "system" => "urn:b", "value" => "B 2" }]
    whole = {
      "resourceType" => "Bundle",
      "entry" => [
        {
          "resource" => {
            "resourceType" => "Patient",
            "birthDate" => "1961-03-14",
            "name" => [{ "family" => "Cole" }],
            "identifier" => numbers
          }
        }
      ]
    }
    read = ->(system) { Handrail::Exchange::FhirIn.read(JSON.generate(whole), system: system) }
    expect(read[nil]).to have_attributes(
      patients: [],
      systems: {
        "urn:a" => "A 1",
        "urn:b" => "B 2"
      }
    )
    expect(read["urn:c"].faults.first.last).to include("A 1, B 2")
    expect(read["urn:b"].patients.first.last["record_number"]).to eq "B 2"
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

# frozen_string_literal: true

require "spec_helper"

# The example resources of the standard (HL7 FHIR 4.0.1, as fhir_models carries them) at our door, each as a bundle of
# its own: none crashes, none is read as something that it is not, every patient is read or refused with its reason.
RSpec.describe Handrail::Exchange::FhirIn do
  examples =
    Dir[
      File.join(
        Gem::Specification.find_by_name("fhir_models").gem_dir,
        "lib/fhir_models/examples/json/*.json"
      )
    ].to_h { |path| [File.basename(path, ".json"), path] }

  kinds = %w[
    Patient
    Observation
    ServiceRequest
    Practitioner
    Organization
    RelatedPerson
    Device
    DiagnosticReport
    Media
    Specimen
  ]

  # resources of those kinds, and bundles of any
  let(:whole) do
    examples
      .transform_values { |path| JSON.parse(File.read(path, encoding: "UTF-8")) }
      .select { |_, one| one["resourceType"] == "Bundle" || kinds.include?(one["resourceType"]) }
  end

  # as a text; a resource that is no bundle stands in one alone
  def bundle(one)
    return JSON.generate(one) if one["resourceType"] == "Bundle"

    JSON.generate(
      "resourceType" => "Bundle",
      "type" => "collection",
      "entry" => [{ "resource" => one }]
    )
  end

  def read(one) = described_class.read(bundle(one), today: Date.new(2026, 12, 1))

  # who is read: the number, family and given names, and the day of birth as the resource says them
  def said(resource)
    name =
      resource["name"]
        .reject { |one| one["use"] == "maiden" }
        .min_by { |one| one["use"] == "official" ? 0 : 1 }
    [name["family"], name["given"].join(" "), resource["birthDate"]]
  end

  refused = {
    "json-edge-cases" => /a modifier that is not known here/,
    "patient-example-a" => /date of birth is not whole/,
    "patient-example-animal" => /An animal/,
    "patient-example-b" => /date of birth is not whole/,
    "patient-example-c" => /has died/,
    "patient-example-chinese" => /the name stands as one text/,
    "patient-example-d" => /has died/,
    "patient-example-dicom" => /date of birth is not whole/,
    "patient-example-ihe-pcd" => /date of birth is not whole/,
    "patient-example-infant-fetal" => /date of birth is not whole/,
    "patient-example-infant-mom" => /no identifier/,
    "patient-example-newborn" => /no identifier/,
    "patient-example-proband" => /there is no name/
  }

  # bundles with patients in them: how many are read, how many refused. The others hold nothing for us.
  bundles = {
    "bundle-references" => [0, 4],
    "bundle-response" => [0, 1],
    "bundle-response-medsallergies" => [1, 0],
    "bundle-response-simplesummary" => [1, 0],
    # three without a number, and two that are to be deleted
    "bundle-transaction" => [2, 5],
    "document-example-dischargesummary" => [0, 1],
    "message-request-link" => [0, 2],
    "message-response-link" => [0, 2],
    "patient-examples-cypress-template" => [225, 0],
    "patient-examples-general" => [1, 11],
    "xds-example" => [1, 0]
  }

  it "are there" do
    counted = whole.each_value.map { |one| one["resourceType"] }.tally
    expect(counted.values_at("Patient", "Observation", "ServiceRequest", "Bundle")).to eq [
         23,
         64,
         20,
         35
       ]
  end

  it "are read as they say, or refused with the reason (patients)" do
    whole
      .select { |_, one| one["resourceType"] == "Patient" }
      .each do |name, one|
        found = read(one)
        if refused.key?(name)
          expect([name, found.patients, found.faults.map(&:last)]).to match [
                  name,
                  [],
                  [refused.fetch(name)]
                ]
        else
          form = found.patients.map(&:last).first
          expect(
            [name, found.faults, form&.values_at("family_name", "given_name", "born_on")]
          ).to eq [name, [], said(one)]
          expect(one["identifier"].map { |number| number["value"] }).to include form[
                    "record_number"
                  ]
        end
      end
  end

  it "are left out and counted, where they are no girth, length or order of ours" do
    whole
      .reject { |_, one| %w[Patient Bundle].include?(one["resourceType"]) }
      .each do |name, one|
        found = read(one)
        expect(
          [name, found.patients, found.readings, found.orders, found.faults, found.left.values.sum]
        ).to eq [name, [], [], [], [], 1]
      end
  end

  it "say of whole bundles how many patients are read and how many are not, and nothing else of theirs" do
    found =
      whole.select { |_, one| one["resourceType"] == "Bundle" }.transform_values { |one| read(one) }
    counts = found.transform_values { |one| [one.patients.size, one.faults.size] }
    expect(counts.reject { |_, pair| pair == [0, 0] }).to eq bundles
    expect(found.values.flat_map { |one| one.readings + one.orders }).to eq []
  end
end

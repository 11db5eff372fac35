# frozen_string_literal: true

require "store_helper"
require "open3"
require "tmpdir"

# What leaves as FHIR, held to R4 by a second library than fhir_models: the npm package fhir (it
# carries HL7's own structure definitions), which bin/test installs.
RSpec.describe Handrail::Exchange::Fhir do
  store = Handrail::Store

  def bundle(patient)
    ids = patient.fittings.map(&:id).sort
    visits = Handrail::Store::Visits.of_fittings(DEMO, ids).values.flatten
    described_class.new(DEMO, patient, visits).bundle
  end

  # what the second library says of some bundles, a line each
  def found(bundles)
    Dir.mktmpdir do |folder|
      files =
        bundles.each_with_index.map do |one, i|
          File.join(folder, "#{i}.json").tap { |path| File.write(path, JSON.generate(one)) }
        end
      output, =
        Open3.capture2e(
          { "NODE_PATH" => File.join(Handrail::ROOT, "node_modules") },
          "node",
          File.join(Handrail::ROOT, "bin", "support", "fhir_check.cjs"),
          *files
        )
      output.lines.map(&:strip)
    end
  end

  it "is sound by a second reading of R4, every wearer of the demo" do
    patients =
      store::Patient.where(clinic_id: DEMO.id).order(:id).all.select { |p| p.fittings.any? }
    bundles = patients.map { |patient| bundle(patient) }
    expect(bundles.size).to be > 20
    expect(found(bundles)).to eq []
  end

  it "would be told what is wrong" do
    made = JSON.parse(JSON.generate(bundle(store::Patient.first(family_name: "Wray"))))
    observation =
      made["entry"]
        .map { |entry| entry["resource"] }
        .find { |one| one["resourceType"] == "Observation" }
    observation.delete("status")
    observation["shoeSize"] = 42
    expect(found([made]).join("\n")).to include("status").and include("shoeSize")
  end
end

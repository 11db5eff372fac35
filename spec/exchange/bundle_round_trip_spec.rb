# frozen_string_literal: true

require "store_helper"
require "json_schemer"
require "prop_check"

# One wearer out as a zip file and in again, whatever was read of them and struck out since.
RSpec.describe Handrail::Exchange::PatientBundle, :rolled_back do
  from = PropCheck::Generators

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:sites) { record(make_visit(clinic, fitter)).needs.map { |item| item.site.key }.uniq }

  # a girth in tenths of a mm, as somebody writes it in a unit
  def written(tenths, unit)
    mm = tenths / 10r
    case unit
    when "mm"
      mm.to_f.round(1).to_s
    when "cm"
      (mm / 10).to_f.round(2).to_s
    else
      # to the eighth of an inch
      eighths = (mm / 25.4r * 8).round
      "#{eighths / 8} #{eighths % 8}/8"
    end
  end

  def read_all(visit, readings)
    readings.each do |site, tenths, unit, struck|
      row = take(visit, fitter, written(tenths, unit), unit: unit, site: sites[site % sites.size])
      run(visit, fitter, :StrikeReading, row: row[:id], reason: "slipped") if struck
    rescue Handrail::Store::NotKept
      next
    end
  end

  def zip_of(visit)
    visits = Handrail::Store::Visits.of_fittings(clinic, [visit.fitting_id]).values.flatten
    described_class.new(clinic, visit.fitting.patient, visits) { nil }
  end

  it "says again every reading that counts, to the hundredth of a millimetre, and no other" do
    schema = JSONSchemer.schema(JSON.parse(File.read(described_class::SCHEMA)))
    kept = 0
    reading =
      from.tuple(
        from.choose(0..9),
        from.choose(3000..4600),
        from.one_of(*%w[mm cm in].map { |u| from.constant(u) }),
        from.boolean
      )
    PropCheck
      .forall(from.array(reading, min: 1, max: 8))
      .with_config(n_runs: 30) do |readings|
        Handrail::Store
          .db
          .transaction(rollback: :always, savepoint: true, auto_savepoint: true) do
            visit = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
            read_all(visit, readings)
            confirm(visit, fitter)
            bundle = zip_of(visit)
            expect(schema.valid?(JSON.parse(bundle.contents.fetch("patient.json")))).to be true
            found = Handrail::Exchange::FhirIn.read(bundle.to_zip)
            said =
              found.readings.map do |_, row|
                mm = Handrail::Quantity::Length.parse(row["value"], unit: row["unit"]).mm
                [row["site"], row["side"], mm.to_f.round(2)]
              end
            live =
              record(visit).usable_readings.map do |row|
                [row[:site], row[:side], row[:value_mm].to_f.round(2)]
              end
            expect([found.faults, said.sort]).to eq [[], live.sort]
            kept += live.size
          end
      end
    expect(kept).to be > 10
  end
end

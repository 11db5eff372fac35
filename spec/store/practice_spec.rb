# frozen_string_literal: true

require "store_helper"

# The practice patient: everything can be tried on them, and they count nowhere.
RSpec.describe Handrail::Store::Commands::MakePracticePatient do
  store = Handrail::Store
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  def make = store_patient(desk(clinic, fitter).run(described_class.new({}))["patient"])
  def store_patient(id) = Handrail::Store::Patient[id]

  it "makes one, and opens the same one ever after" do
    first = make
    expect(make.id).to eq first.id
    expect(store::Patient.where(clinic_id: clinic.id, practice: true).count).to eq 1
  end

  it "says so where its record number is somebody's" do
    make_patient(clinic, fitter, record_number: "practice")
    expect { make }.to raise_error(store::Faults) { |e|
      expect(e.fields["record_number"]).to include("PRACTICE is taken")
    }
  end

  it "counts nowhere: not on the board, not in our tapes, not among the wearers, not on the shelf" do
    product = make_product(clinic)
    desk(clinic, fitter).run(
      Fixtures::Commands::ReceiveStock.new("product" => product.id, "size" => "M", "count" => "1")
    )
    real, practice =
      [make_patient(clinic, fitter), make].map do |patient|
        make_visit(clinic, fitter, patient: patient, product: product).tap do |visit|
          run(visit, fitter, :BookVisit, day: clinic.today.iso8601, time: "09:00")
          ask(visit, fitter)
          2.times { take(visit, fitter, "36.5") }
        end
      end
    run(practice, fitter, :ChooseSize, size: "M")
    expect(store::Day.new(clinic).lists[:visits].lines.map(&:id)).to eq [real.id]
    expect(store.db[:reading_pairs].where(clinic_id: clinic.id).select_map(:visit_id).uniq).to eq [
         real.id
       ]
    chart = record(real).pin.chart
    expect(store::Catalogue.wearers(clinic, chart).size).to eq 1
    expect(store.db[:stock_items].where(clinic_id: clinic.id).select_map(:state)).to eq ["shelf"]
  end
end

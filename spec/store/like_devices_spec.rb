# frozen_string_literal: true

require "store_helper"

RSpec.describe Handrail::Store::Visits do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  it "finds like devices that were handed over to the same wearer, not too long ago, and no others" do
    first = handed_over_visit(clinic, fitter)
    patient = record(first).patient
    product = Handrail::Store::Product[record(first).fitting.product_id]
    second = make_visit(clinic, fitter, patient: patient, product: product)
    expect(described_class.like_devices(record(second), 3)).to eq [
         described_class::Given[on: clinic.today, side: "left"]
       ]
    expect(described_class.like_devices(record(first), 3)).to be_empty
    stranger = make_visit(clinic, fitter, product: product)
    expect(described_class.like_devices(record(stranger), 3)).to be_empty
    allow(Handrail::Store).to receive(:now).and_return(Time.now + (4 * 366 * 86_400))
    expect(described_class.like_devices(record(second), 3)).to be_empty
  end
end

# frozen_string_literal: true

require "store_helper"

# Whose readings a chart is held against.
RSpec.describe Handrail::Store::Catalogue, :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:product) { make_product(clinic) }
  let(:chart) { product.revision(clinic.today).chart }

  def measured(*girths)
    make_visit(clinic, fitter, product: product).tap do |visit|
      ask(visit, fitter)
      girths.each { |girth| take(visit, fitter, girth) }
    end
  end

  def found =
    described_class
      .wearers(clinic, chart)
      .map { |readings| readings.map { |one| one.length.mm.to_f } }

  it "counts those who were measured last, however often one of them was read" do
    stub_const("Handrail::Store::Catalogue::MOST_WEARERS", 2)
    stub_const("Handrail::Store::Catalogue::READINGS_EACH", 1)
    measured("33")
    measured("34")
    measured("36.1", "36.2", "36.3", "36.4", "36.5")
    expect(found).to contain_exactly([340], [361, 362, 363, 364, 365])
  end

  it "finds all of a small clinic, and nobody where nobody was measured" do
    expect(found).to eq []
    measured("33")
    expect(found).to eq [[330]]
  end
end

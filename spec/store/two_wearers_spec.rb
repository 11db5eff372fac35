# frozen_string_literal: true

require "store_helper"

# What is kept of one wearer's readings is never another's, on the same chart.
RSpec.describe "Two wearers", :rolled_back do
  it "of one product are each told the size of their own girth" do
    clinic = make_clinic
    fitter = make_account(clinic)
    product = make_product(clinic)
    sizes =
      %w[36.5 33.5].map do |girth|
        visit = make_visit(clinic, fitter, product: product)
        ask(visit, fitter)
        2.times { take(visit, fitter, girth) }
        record(visit).sizing.match("left").size
      end
    expect(sizes).to eq %w[M S]
  end

  it "of two products have each their own pin, with its own product" do
    clinic = make_clinic
    fitter = make_account(clinic)
    products = Array.new(2) { make_product(clinic) }
    visits = products.map { |product| make_visit(clinic, fitter, product: product) }
    2.times { expect(visits.map { |visit| record(visit).pin.product.id }).to eq products.map(&:id) }
  end
end

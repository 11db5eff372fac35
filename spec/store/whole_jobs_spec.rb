# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# One product of each device family taken from its order to a closed recheck, on readings that fit
# one of its sizes.
RSpec.describe "The whole job with every device family", :rolled_back do
  include WholeJobs

  let(:clinic) { DEMO }
  let(:fitter) { Handrail::Store::Account.first(email: "maren@heronquay.example") }

  YAML
    .safe_load_file(File.join(Handrail::ROOT, "demo", "products.yml"))
    .values
    .uniq { |raw| raw["family"] }
    .each do |raw|
      it "goes from the order of a #{raw["maker"]} #{raw["name"]} to a closed recheck" do
        product =
          Handrail::Store::Product.first(
            clinic_id: clinic.id,
            name: raw["name"],
            family: raw["family"]
          )
        visit = order(product)
        cautions(visit)
        measure(visit)
        size(visit)
        finish_steps(visit, fitter)
        look_at_all(visit, fitter)
        teach(visit, fitter)
        hand_over(visit, fitter)
        expect(record(visit).hand_over).to include(signed_name: "Wilma Quarrel")
        later = Handrail::Store::Visit.where(fitting_id: visit.fitting_id, purpose: "recheck").first
        cautions(later)
        measure(later)
        answer_all(later, fitter)
        look_at_all(later, fitter)
        run(later, fitter, :CloseRecheck)
        expect(
          [
            record(later).closed?,
            record(visit).sides.all? { |side| record(visit).sizing.choice(side) }
          ]
        ).to eq [true, true]
      end
    end
end

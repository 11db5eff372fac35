# frozen_string_literal: true

require "store_helper"

# One product of each device family taken from its order to a closed recheck, on readings that fit one of its sizes.
RSpec.describe "The whole job with every device family", :rolled_back do
  let(:clinic) { DEMO }
  let(:fitter) { Handrail::Store::Account.first(email: "maren@heronquay.example") }

  # a reading that lies in the middle of a size, or in the middle of what a body gives
  def likely(item, chart, species)
    sizes = chart ? chart.parts.map { |part| part.sizes[part.sizes.size / 2] } : []
    band = sizes.flat_map(&:bands).find { |b| b.site == item.site.key }
    mm = band ? band.middle : item.site.range(species).sum(&:mm) / 2
    "#{mm.to_f.round(1)} mm"
  end

  def order(product)
    family = product.device_family
    fields = family.fields.select { |f| f.required || f.same_as }.to_h do |f|
      [f.key, if f.same_as
                product.options[f.same_as] || family.option(f.same_as).default
              else
                (f.type == "choice" ? f.choices.first.key : "60")
              end]
    end
    patient = make_patient(clinic, fitter, **(family.species == %w[dog] ? { species: "dog", owner_name: "Leo" } : {}))
    Fixtures::Entries::Orders.create(clinic, fitter, patient, { "family" => family.key, "side" => family.sides.last, "prescriber" => "Dr Spec", "product_id" => product.id, "prescribed_on" => clinic.today.iso8601, "fields" => fields })
  end

  def measure(visit)
    found = record(visit)
    found.needs.each { |item| take(visit, fitter, likely(item, found.chart, found.patient.species), site: item.site.key, side: item.side, posture: item.posture, tension: item.tension, unit: "mm") }
    record(visit).doubts.each { |row| Fixtures::Entries::Readings.answer(ledger(visit, fitter), record(visit), row[:id], "right") }
  end

  def size(visit)
    record(visit).sides.each do |side|
      if record(visit).family.size_rule.by == "trial"
        Fixtures::Entries::Sizes.trial(ledger(visit, fitter), record(visit).trial_run(side).next, "good", side: side)
      end
      advice = record(visit).advice(side)
      Fixtures::Entries::Sizes.choose(ledger(visit, fitter), advice.size || "made to measure", why: "no size of the chart serves", side: side)
      Fixtures::Entries::Sizes.issue(ledger(visit, fitter), serial: "S-#{side}", lot: nil, side: side)
    end
  end

  def checks(visit)
    record(visit).checks.sort_by { |c| c.final ? 1 : 0 }.each { |c| look(visit, fitter, c.key, typed: c.measured? ? "1 mm" : nil) }
  end

  YAML.safe_load_file(File.join(Handrail::ROOT, "demo", "products.yml")).values.uniq { |raw| raw["family"] }.each do |raw|
    it "goes from the order of a #{raw['maker']} #{raw['name']} to a closed recheck" do
      product = Handrail::Store::Product.first(clinic_id: clinic.id, name: raw["name"], family: raw["family"])
      visit = order(product)
      ask(visit, fitter)
      measure(visit)
      size(visit)
      record(visit).applying.steps.each { |step| Fixtures::Entries::Fit.step(ledger(visit, fitter), step.key) }
      checks(visit)
      Fixtures::Entries::Teaching.show(ledger(visit, fitter), who: "Wilma", unaided: true, shown: record(visit).family.tasks.map(&:key))
      hand_over(visit, fitter)
      expect(record(visit).hand_over).to include(signed_name: "Wilma Quarrel")
      later = Handrail::Store::Visit.where(fitting_id: visit.fitting_id, purpose: "recheck").first
      ask(later, fitter)
      measure(later)
      record(later).family.recheck_asks.select { |a| a.type == "choice" }.each { |a| Fixtures::Entries::Handing.answer(ledger(later, fitter), record(later), a.key, a.choices.first.key) }
      checks(later)
      Fixtures::Entries::Handing.close_recheck(ledger(later, fitter))
      expect([record(later).visit.closed?, record(visit).sides.all? { |side| record(visit).choice(side) }]).to eq [true, true]
    end
  end
end

# frozen_string_literal: true

require "store_helper"

# One product of each device family taken from its order to a closed recheck, on readings that fit
# one of its sizes.
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
    fields =
      family
        .fields
        .select { |f| f.required || f.same_as }
        .to_h do |f|
          [
            f.key,
            if f.same_as
              product.options[f.same_as] || family.option(f.same_as).default
            else
              (f.type == "choice" ? f.choices.first.key : "60")
            end
          ]
        end
    patient =
      make_patient(
        clinic,
        fitter,
        **(family.species == %w[dog] ? { species: "dog", owner_name: "Leo" } : {})
      )
    make_visit(
      clinic,
      fitter,
      patient: patient,
      product: product,
      side: family.sides.last,
      fields: fields
    )
  end

  def measure(visit)
    found = record(visit)
    found.needs.each do |item|
      take(
        visit,
        fitter,
        likely(item, found.pin.chart, found.patient.species),
        site: item.site.key,
        side: item.side,
        posture: item.posture,
        tension: item.tension,
        unit: "mm"
      )
    end
    record(visit).doubts.each do |row|
      run(visit, fitter, :AnswerReading, row: row[:id], answer: "right")
    end
  end

  def size(visit)
    record(visit).sides.each do |side|
      if record(visit).family.size_rule.by == "trial"
        run(
          visit,
          fitter,
          :TrySize,
          size: record(visit).trial_run(side).next,
          outcome: "good",
          side: side
        )
      end
      advised = record(visit).advice(side).size || "made to measure"
      run(visit, fitter, :ChooseSize, size: advised, why: "no size of the chart serves", side: side)
      run(visit, fitter, :IssueDevice, serial: "S-#{side}", side: side)
    end
  end

  # the pressures of sound arteries, where a family asks for the index
  def cautions(visit)
    pressures = { "arm_left" => "130", "ankle_left_front" => "140", "ankle_right_front" => "138" }
    ask(visit, fitter, pressures: record(visit).family.index ? pressures : {})
  end

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
        record(later).asks_open.each do |one|
          run(later, fitter, :AnswerRecheck, field: one.key, answer: one.choices.first.key)
        end
        look_at_all(later, fitter)
        run(later, fitter, :CloseRecheck)
        expect(
          [record(later).closed?, record(visit).sides.all? { |side| record(visit).choice(side) }]
        ).to eq [true, true]
      end
    end
end

# frozen_string_literal: true

# A device of any family taken through its stages by commands, on readings that fit one of its sizes. Who
# includes it has `clinic` and `fitter`.
module WholeJobs
  # a reading that lies in the middle of a size, or in the middle of what a body gives
  def likely(item, chart, species)
    sizes = chart ? chart.parts.map { |part| part.sizes[part.sizes.size / 2] } : []
    band = sizes.flat_map(&:bands).find { |b| b.site == item.site.key }
    mm = band ? band.middle : item.site.range(species).sum(&:mm) / 2
    "#{mm.to_f.round(1)} mm"
  end

  # also - what is ordered beside what has to be: field => text
  def order(product, side: product.device_family.sides.last, also: {})
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
        .merge(also)
    patient =
      make_patient(
        clinic,
        fitter,
        **(family.species == %w[dog] ? { species: "dog", owner_name: "Leo" } : {})
      )
    make_visit(clinic, fitter, patient: patient, product: product, side: side, fields: fields)
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
          size: record(visit).sizing.trial_run(side).next,
          outcome: "good",
          side: side
        )
      end
      advised = record(visit).sizing.advice(side).size || "made to measure"
      run(visit, fitter, :ChooseSize, size: advised, why: "no size of the chart serves", side: side)
      run(visit, fitter, :IssueDevice, serial: "S-#{side}", side: side)
    end
  end

  # the pressures of sound arteries, where a family asks for the index
  def cautions(visit)
    pressures =
      %w[arm_left arm_right ankle_left_front ankle_right_front].to_h do |key|
        [key, key[/arm/] ? "130" : "140"]
      end
    ask(visit, fitter, pressures: record(visit).family.index ? pressures : {})
  end

  # a product of the demo, with its chart, in another clinic; key - in demo/products.yml
  def product_like(key)
    raw = YAML.safe_load_file(File.join(Handrail::ROOT, "demo", "products.yml")).fetch(key)
    maker = Handrail::Store::Maker.find_or_create(clinic_id: clinic.id, name: raw["maker"])
    product =
      Handrail::Store::Product.create(
        clinic_id: clinic.id,
        maker_id: maker.id,
        family: raw["family"],
        name: raw["name"],
        options: Handrail::Store.json(raw.fetch("options", {}))
      )
    return product unless raw["chart"]

    path = File.join(Handrail::ROOT, "demo", "charts", "#{raw["chart"]}.csv")
    Handrail::Store::ChartRevision.add(
      product,
      Handrail::Exchange::ChartFile.rows(path),
      dated: clinic.today - 30,
      tie_rule: raw["tie"],
      primary_site: raw["primary"]
    )
    product
  end

  # a product of a family in the clinic: the demo's own, or one like it
  def demo_product(family)
    key, =
      YAML
        .safe_load_file(File.join(Handrail::ROOT, "demo", "products.yml"))
        .find { |_, raw| raw["family"] == family }
    product_like(key)
  end

  # ordered, measured and sized, the device written down
  def sized_job(family, product = demo_product(family), **order)
    order(product, **order).tap do |visit|
      cautions(visit)
      measure(visit)
      size(visit)
    end
  end

  # the same, handed over; returns its first recheck, opened and read
  def recheck_of(family, visit = sized_job(family))
    finish_steps(visit, fitter)
    look_at_all(visit, fitter)
    teach(visit, fitter)
    hand_over(visit, fitter)
    later = Handrail::Store::Visit.where(fitting_id: visit.fitting_id, purpose: "recheck").first
    cautions(later)
    measure(later)
    later
  end
end

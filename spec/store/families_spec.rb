# frozen_string_literal: true

require "store_helper"

RSpec.describe "Every device family at a visit", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }

  def chart_rows(file) =
    Handrail::Exchange::ChartFile.rows(File.join(Handrail::ROOT, "demo", "charts", "#{file}.csv"))

  def product(family, chart: nil, options: {}, tie: "larger", primary: nil)
    maker = Handrail::Store::Maker.find_or_create(clinic_id: clinic.id, name: "Specwright")
    Handrail::Store::Product
      .create(
        clinic_id: clinic.id,
        maker_id: maker.id,
        family: family,
        name: "#{family} #{SecureRandom.hex(2)}",
        options: Handrail::Store.json(options)
      )
      .tap do |made|
        if chart
          Handrail::Store::ChartRevision.add(
            made,
            chart_rows(chart),
            dated: Date.new(2026, 1, 1),
            tie_rule: tie,
            primary_site: primary
          )
        end
      end
  end

  def order(product, side: nil, patient: make_patient(clinic, fitter), **fields)
    fields = { "indication" => "as ordered", **fields.transform_keys(&:to_s) }
    make_visit(clinic, fitter, patient: patient, product: product, side: side, fields: fields)
  end

  def read(visit, posture, side: nil, unit: "cm", **sites)
    sites.each do |site, text|
      take(visit, fitter, text, site: site.to_s, side: side, unit: unit, posture: posture)
    end
  end

  def choose(visit, size, **how) = run(visit, fitter, :ChooseSize, size: size, **how)

  def stock(product, size, **how)
    how = { "count" => "1", **how.transform_keys(&:to_s) }
    desk(clinic, fitter).run(
      Fixtures::Commands::ReceiveStock.new("product" => product.id, "size" => size, **how)
    )
  end

  def put_back(item, **how)
    desk(clinic, fitter).run(
      Fixtures::Commands::PutBackPiece.new("item" => item, **how.transform_keys(&:to_s))
    )
  end

  def shelf(product)
    Handrail::Store::Shelf
      .lines(clinic, product: product)
      .to_h { |line| [line.size, [line.count, line.held]] }
  end

  # an order that any family takes
  def any_order(family, product)
    fields =
      family
        .fields
        .select(&:required)
        .reject { |f| f.key == "indication" }
        .to_h { |f| [f.key.to_sym, f.type == "choice" ? f.choices.first.key : "20"] }
    patient =
      if family.species.include?("human")
        make_patient(clinic, fitter)
      else
        make_patient(clinic, fitter, species: "dog", owner_name: "Leo")
      end
    order(product, side: family.sides.first, patient: patient, **fields)
  end

  Handrail::Families::Registry.all.each_value do |family|
    it "orders, asks, plans the readings of and draws #{family.name.downcase}" do
      visit = any_order(family, product(family.key))
      ask(visit, fitter, agreed_by: "Dr Vessel")
      found = record(visit)
      if family.needs.any? { |n| n.use == "size" }
        expect(found.needs.select(&:decides)).not_to be_empty
      end
      expect(found.gates.blocks(:measure)).to be_empty
      expect(found.fit.checks.count { |check, _| check.final }).to eq 1
      expect([found.sizing.figure.key, found.family.steps(found.config)]).to all(be_truthy)
      expect(
        (
          found.family.steps(found.config).map(&:title) +
            found.family.checks(found.config).map(&:title)
        ).map { |text| found.fill(text) }.grep(/[{}]/)
      ).to be_empty
    end
  end

  describe "both legs" do
    let(:made) do
      product(
        "anti_embolism_stocking",
        chart: "seacombe-ward-knee",
        options: {
          "made_for" => "knee"
        }
      )
    end
    let(:visit) { order(made, side: "both", length: "knee") }

    before do
      stock(made, "M regular", count: "1", lot: "A1")
      ask(visit, fitter)
      read(visit, "raised", side: "left", calf_widest: "36", heel_to_knee_crease: "41")
      read(visit, "raised", side: "right", calf_widest: "39.5", heel_to_knee_crease: "41")
    end

    it "orders the pair as two sizes: one from the shelf, one to be ordered" do
      expect(
        record(visit).sides.to_h { |side| [side, record(visit).sizing.advice(side).size] }
      ).to eq("left" => "M regular", "right" => "L regular")
      choose(visit, "M regular", side: "left")
      expect(record(visit).gates.open?(:fit)).to be false
      choose(visit, "L regular", side: "right")
      said = record(visit).events.last(2).map { |e| e[:said] }
      expect(said).to match [
              /left size M regular chosen, one held from the shelf/,
              /right size L regular chosen, none on the shelf, to be ordered/
            ]
      expect(record(visit).sizing.size_said).to eq "left M regular, right L regular"
      expect(record(visit).gates.blocks(:fit).map { |block| [block.code, block.side] }).to eq [
           [:no_device, "left"],
           [:no_device, "right"]
         ]
    end

    it "holds a piece for each leg where both take the same size" do
      stock(made, "M regular", lot: "A2")
      read(visit, "raised", side: "right", calf_widest: "35.6")
      read(visit, "raised", side: "right", calf_widest: "35.8")
      choose(visit, "M regular", side: "left")
      choose(visit, "M regular", side: "right", why: "first reading was over the bandage")
      expect(%w[left right].map { |side| record(visit).sizing.reserved(side)[:lot] }).to eq %w[
           A1
           A2
         ]
      %w[left right].each do |side|
        run(visit, fitter, :IssueDevice, lot: record(visit).sizing.reserved(side)[:lot], side: side)
      end
      expect(
        Handrail::Store.db[:issued_devices]
          .where(visit_id: visit.id)
          .select_map(:stock_item_id)
          .uniq
          .size
      ).to eq 2
    end

    it "gives the piece back when another size is chosen, and asks why once" do
      choose(visit, "M regular", side: "left")
      expect(shelf(made)["M regular"]).to eq [0, 1]
      expect do choose(visit, "S regular", side: "left") end.to raise_error(
        Handrail::Store::Unacceptable,
        /M regular is advised. Say why/
      )
      choose(visit, "S regular", side: "left", why: "thin by evening")
      expect(shelf(made)["M regular"]).to eq [1, 0]
    end

    it "does not fit a knee stocking for a thigh order" do
      expect do order(made, side: "both", length: "thigh") end.to raise_error(
        Handrail::Store::Faults
      ) { |e| expect(e.fields["fields[length]"]).to include("is made for knee length") }
    end
  end

  describe "the shelf" do
    let(:made) { make_product(clinic) }
    let(:senior) { make_account(clinic, "senior") }

    it "reserves at the choice, takes at hand-over, and puts back on return" do
      stock(made, "M", count: "2", lot: "B7")
      visit = make_visit(clinic, fitter, product: made)
      ask(visit, fitter)
      2.times { take(visit, fitter, "36.5") }
      choose(visit, "M")
      expect([shelf(made)["M"], record(visit).sizing.reserved[:lot]]).to eq [[1, 1], "B7"]
      run(visit, fitter, :IssueDevice, lot: "B7")
      finish_steps(visit, fitter)
      look_at_all(visit, fitter)
      teach(visit, fitter)
      hand_over(visit, fitter)
      item = Handrail::Store.db[:stock_items].where(product_id: made.id, state: "taken").first
      expect([shelf(made)["M"], item[:fitting_id]]).to eq [[1, 0], visit.fitting_id]
      expect { put_back(item[:id]) }.to raise_error(
        Handrail::Store::Unacceptable,
        /running fitting holds/
      )
      run(visit, fitter, :EndFitting, why: "healed")
      put_back(item[:id])
      said = Handrail::Store.db[:entries].where(clinic_id: clinic.id, command: "put_back_piece")
      expect([shelf(made)["M"], said.get(:said)]).to eq [[2, 0], "piece put back on the shelf"]
      expect { put_back(item[:id]) }.to raise_error(
        Handrail::Store::Unacceptable,
        /on the shelf already/
      )
    end

    it "says what is low, and refuses what can not stand there" do
      stock(made, "M", count: "1")
      desk(clinic, fitter).run(
        Fixtures::Commands::SetStockLevel.new("product" => made.id, "size" => "M", "least" => "2")
      )
      expect(
        Handrail::Store::Day.new(clinic).low.map { |row| row.values_at(:size, :count, :least) }
      ).to eq [["M", 1, 2]]
      expect { stock(made, "XXL", count: "none") }.to raise_error(Handrail::Store::Faults) { |e|
        expect(e.fields.keys).to eq %w[count]
      }
      expect { stock(made, "XXL") }.to raise_error(Handrail::Store::Faults) { |e|
        expect(e.fields.keys).to eq %w[size]
      }
      expect {
        Handrail::Store.db[:stock_items].where(product_id: made.id).update(state: "taken")
      }.to raise_error(Sequel::CheckConstraintViolation)
    end
  end

  it "refuses the wrong hip with the reason, keeps it, and takes the right one" do
    visit = order(product("lumbosacral_support", chart: "hallam-back-support"), stays: "flexible")
    ask(visit, fitter)
    read(visit, "standing", hip_fullest: "106")
    verdict = Handrail::Web::Verdict.new(record(visit), nil)
    expect(verdict.notes.map(&:text)).to include(
      /Hip, fullest part of the buttocks was read. This chart is made for the hip midway.*kept for the record/
    )
    expect([record(visit).unread.map(&:name), record(visit).sizing.advice.size]).to eq [
         ["Hip, midway iliac crest to greater trochanter"],
         nil
       ]
    read(visit, "standing", hip_mid_crest_trochanter: "99")
    expect(
      [record(visit).sizing.advice.size, record(visit).rows(:readings).map { |r| r[:site] }]
    ).to eq ["M", %w[hip_fullest hip_mid_crest_trochanter]]
  end

  it "keeps a computed sheet with the choice, as it stood" do
    visit = order(product("lumbar_panel_brace"), moving: "log_roll")
    ask(visit, fitter)
    read(visit, "standing", trunk_mid_rib_crest: "140")
    expect(record(visit).sizing.advice.size).to be_nil
    read(visit, "lying", trunk_mid_rib_crest: "131")
    expect(record(visit).sizing.advice.size).to eq "standard belt, one extension each arm"
    choose(visit, "standard belt, one extension each arm")
    kept = Handrail::Store.db[:size_choices].where(visit_id: visit.id).first
    expect([kept[:verdict], kept[:sheet]["lines"].first]).to match [
            "computed",
            ["Each arm", "44.5 cm", /girth 131 cm/]
          ]
    too_wide = order(product("lumbar_panel_brace"), moving: "free")
    ask(too_wide, fitter)
    read(too_wide, "standing", trunk_mid_rib_crest: "180")
    expect([record(too_wide).sizing.advice.size, record(too_wide).sizing.advice.verdict]).to eq [
         "made to measure",
         "not_possible"
       ]
  end

  it "lets the window of the plate decide against the lengths" do
    visit =
      order(
        product("foot_insole", chart: "pellow-insole", tie: "primary", primary: "heel_to_ball"),
        side: "both",
        degrees_left: "3",
        towards_left: "medial",
        degrees_right: "4"
      )
    ask(visit, fitter)
    %w[left right].each do |side|
      read(
        visit,
        "standing",
        unit: "mm",
        side: side,
        foot_length: "260",
        heel_to_ball: "188",
        heel_width: "60"
      )
    end
    trial = ->(size, outcome, side = "left") do
      run(visit, fitter, :TrySize, size: size, outcome: outcome, side: side)
    end
    expect(
      [record(visit).sizing.trial_run("left").next, record(visit).sizing.advice("left").size]
    ).to eq ["41", nil]
    trial["41", "small"]
    expect(record(visit).sizing.trial_run("left").next).to eq "42"
    trial["42", "good"]
    expect(
      [record(visit).sizing.advice("left").size, record(visit).sizing.advice("right").size]
    ).to eq ["42", nil]
    expect(record(visit).sizing.sheets("left")["heel_wedge"].lines.first.value).to eq "3.1 mm"
    expect(record(visit).sizing.sheets("right")["heel_wedge"]).to have_attributes(
      state: :not_done,
      missing: [have_attributes(code: "missing.edge")]
    )
  end

  describe "compression" do
    let(:visit) do
      order(
        product(
          "graduated_stocking",
          chart: "seacombe-day-knee",
          options: {
            "made_for" => "knee"
          }
        ),
        side: "left",
        class: "ral2",
        length: "knee"
      )
    end

    it "is made to measure when no one size holds every girth, and says so" do
      ask(visit, fitter, agreed_by: "Dr Vessel")
      read(
        visit,
        "raised",
        side: "left",
        ankle_narrowest: "23",
        calf_widest: "36",
        calf_below_knee: "34.5",
        height_calf_below_knee: "41"
      )
      expect(record(visit).sizing.advice.size).to eq "III normal"
      read(visit, "raised", side: "left", calf_below_knee: "41")
      confirm(visit, fitter)
      expect(record(visit).sizing.advice).to have_attributes(
        size: "made to measure",
        probability: nil,
        verdict: "conflict"
      )
      verdict = Handrail::Web::Verdict.new(record(visit), "left")
      expect([verdict.headline, verdict.state, verdict.probability]).to match [
              /Every girth must lie in one size/,
              :look_again,
              nil
            ]
      choose(visit, "made to measure", side: "left")
      expect(record(visit).sizing.choice("left")).to include(
        advised: "made to measure",
        why_different: nil
      )
    end

    it "stops below 0.5, asks for the specialist up to 0.8, and keeps what was typed" do
      expect do
        ask(visit, fitter, pressures: { "arm_left" => "140", "ankle_left_front" => "90" })
      end.to raise_error(Handrail::Store::Unacceptable, /who agreed/)
      ask(
        visit,
        fitter,
        pressures: {
          "arm_left" => "140",
          "ankle_left_front" => "90"
        },
        agreed_by: "Dr Vessel"
      )
      expect(record(visit).gates.open?(:measure)).to be true
      ask(visit, fitter, pressures: { "arm_left" => "140", "ankle_left_front" => "60" })
      expect(record(visit).safety.stops.map { |stop| [stop.key, stop.urgency] }).to eq [
           ["index:left", :today]
         ]
      expect(record(visit).safety.questions[:pressures].to_h).to include("ankle_left_front" => "60")
      expect { ask(visit, fitter, pressures: { "arm_left" => "so" }) }.to raise_error(
        Handrail::Store::Faults
      )
    end
  end

  it "stops when the wearer is heavier than the harness may carry" do
    visit = order(product("gait_harness", options: { "weight_limit" => 136 }), weight: "142")
    expect(record(visit).safety.stops.map(&:text)).to match [
            /heavier than this harness may carry \(136 kg\)/
          ]
    lighter = order(product("gait_harness", options: { "weight_limit" => 150 }), weight: "142")
    expect(record(lighter).safety.stops).to be_empty
  end

  it "uses a fitter's own repeatability from ten pairs on, and nobody else's" do
    own = make_product(clinic)
    11.times do |i|
      visit = make_visit(clinic, fitter, product: own)
      ask(visit, fitter)
      take(visit, fitter, (36 + (i * 0.1)).round(1).to_s)
      take(visit, fitter, (36.1 + (i * 0.1)).round(1).to_s)
    end
    found = Handrail::Store::Projectors::ReadingPairs.of(clinic)[[fitter.id, CoreHelpers::CALF]]
    expect([found.count, found.tem]).to match [11, be_within(1e-6).of(Math.sqrt(0.5))]
    visit = make_visit(clinic, fitter, product: own)
    ask(visit, fitter)
    take(visit, fitter, "36.5")
    expect(record(visit).sizing.precision("left").own?(CoreHelpers::CALF)).to be true
    take(visit, make_account(clinic), "36.6")
    expect(record(visit).sizing.precision("left").own?(CoreHelpers::CALF)).to be false
  end

  it "keeps old fittings on their chart when a new one comes into force" do
    made = make_product(clinic)
    visit = make_visit(clinic, fitter, product: made)
    ask(visit, fitter)
    2.times { take(visit, fitter, "36.5") }
    choose(visit, "M")
    rows = [
      Handrail::Sizing::Chart::Row[
        part: "",
        size: "one",
        site: CoreHelpers::CALF,
        min: Rational(300),
        max: Rational(400),
        unit: "cm"
      ]
    ]
    senior = make_account(clinic, "senior")
    chart =
      Fixtures::Commands::AddChart.new(
        {
          "product" => made.id,
          "dated" => Handrail::Quantity::Day.write(clinic.today),
          "tie_rule" => "larger"
        },
        rows: rows
      )
    desk(clinic, senior).run(chart)
    later = make_visit(clinic, fitter, product: made)
    expect([record(visit).pin.chart.names, record(later).pin.chart.names]).to eq [
         %w[S M L],
         %w[one]
       ]
    expect { desk(clinic, senior).run(chart) }.to raise_error(
      Handrail::Store::Faults,
      /a chart of that day already/
    )
  end
end

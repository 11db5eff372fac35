# frozen_string_literal: true

require "store_helper"
require "tmpdir"

RSpec.describe "A fitting is pinned to what it was made on", :rolled_back do
  registry = Handrail::Families::Registry

  let(:clinic) { make_clinic }
  let(:account) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:product) { make_product(clinic) }
  let(:visit) { make_visit(clinic, account, product: product) }

  # every text of a family edited, for as long as the block runs: titles, steps, checks, remedies,
  # rules
  def with_edited_family
    Dir.mktmpdir do |dir|
      raw =
        YAML.safe_load_file(File.join(Handrail::Families::Registry::FOLDER, "knee_unloader.yml"))
      path =
        File.join(dir, "knee_unloader.yml").tap { |file| File.write(file, edited(raw).to_yaml) }
      changed = Handrail::Families::Family.load(path)
      all = Handrail::Families::Registry.all.merge("knee_unloader" => changed)
      allow(Handrail::Families::Registry).to receive(:all).and_return(all)
      yield changed
    end
    RSpec::Mocks.space.proxy_for(Handrail::Families::Registry).reset
  end

  TEXTS = %w[title do why says hint label text about note start].freeze

  def edited(raw)
    case raw
    when Hash
      raw.to_h do |key, value|
        [key, TEXTS.include?(key) && value.is_a?(String) ? "#{value} (edited)" : edited(value)]
      end
    when Array
      raw.map { |value| edited(value) }
    else
      raw
    end
  end

  # what a record, its gates and its sheets say, as text
  def whole_record(visit)
    now = record(visit)
    page = Handrail::Web::Visits::RecordPages::Page.new(now)
    sheet = Handrail::Web::Visits::SheetPage.new(now)
    [
      now.title,
      now.sizing.size_said,
      now.configuration&.says,
      now.family.text,
      now.config,
      now.revision.id,
      now.fit.checks.map { |check, _| now.fill(check.title) },
      now.fit.applying.steps.map { |step| now.fill(step.title) },
      page.results.map { |row| page.result_words(row) },
      page.readings.map { |row| page.reading_words(row) },
      now.gates.blocks(:hand_over).map(&:to_h),
      Handrail::Fitting::NextStep.of(now).to_h,
      sheet.plans.map(&:start),
      sheet.rules,
      sheet.putting_on,
      now.fit.settings.map { |field, row| [field.label, row] },
      now.product.to_h,
      Handrail::Wording.grounds(now.sizing.advice),
      now.needs.map(&:key)
    ].inspect
  end

  def change_options(**options)
    form = {
      "product" => product.id,
      "options" => options.transform_keys(&:to_s),
      "offered" => "yes"
    }
    desk(clinic, senior).run(Fixtures::Commands::ChangeProduct.new(form))
  end

  def new_chart
    row =
      Handrail::Sizing::Chart::Row[
        part: "",
        size: "one",
        site: CoreHelpers::CALF,
        min: 300r,
        max: 400r,
        unit: "cm"
      ]
    form = {
      "product" => product.id,
      "dated" => Handrail::Quantity::Day.write(clinic.today),
      "tie_rule" => "larger"
    }
    desk(clinic, senior).run(Fixtures::Commands::AddChart.new(form, rows: [row]))
  end

  it "says the same for ever once it is closed, whatever is edited afterwards" do
    closed = handed_over_visit(clinic, account)
    before = whole_record(closed)
    Handrail::Store::Product[closed.fitting.product_id].update(
      options: Handrail::Store.json("type" => "dial"),
      name: "other"
    )
    with_edited_family do |changed|
      expect(changed.check("slip").title).to end_with "(edited)"
      expect(whole_record(closed)).to eq before
    end
    expect(record(closed).fit.checks.size).to eq family.checks(record(closed).config).size
  end

  it "changes nothing of what runs: steps stay finished, the chart stays" do
    running = sized_visit(clinic, account)
    finish_steps(running, account)
    before = whole_record(running)
    Handrail::Store::Product[running.fitting.product_id].update(
      options: Handrail::Store.json("type" => "dial")
    )
    expect(record(running).fit.applying.steps.size).to eq record(running).fit.applying.done.size
    expect(whole_record(running)).to eq before
  end

  it "offers what changed, and takes it as an entry" do
    ask(visit, account)
    expect(Handrail::Store::Offer.of(record(visit))).to be_nil
    change_options(type: "dial")
    new_chart
    offer = Handrail::Store::Offer.of(record(visit))
    expect(offer.names).to eq %w[product chart]
    expect(offer.changes.first).to have_attributes(
      before: "Single upright with crossing straps",
      after: "Dial-tensioned"
    )
    run(visit, account, :TakeProtocol, offer: offer.digest, take: "yes")
    expect([record(visit).config["type"], record(visit).pin.chart.names]).to eq ["dial", ["one"]]
    expect(record(visit).events.last[:said]).to eq "took what changed: product, chart"
    expect(Handrail::Store::Offer.of(record(visit))).to be_nil
  end

  it "leaves it when it is left, and offers the next change again" do
    ask(visit, account)
    change_options(type: "dial")
    offer = Handrail::Store::Offer.of(record(visit))
    run(visit, account, :TakeProtocol, offer: offer.digest, take: "no")
    expect([record(visit).config["type"], Handrail::Store::Offer.of(record(visit))]).to eq [
         "single_upright",
         nil
       ]
    change_options(type: "double_upright")
    expect(Handrail::Store::Offer.of(record(visit)).names).to eq %w[product]
    expect do
      run(visit, account, :TakeProtocol, offer: offer.digest, take: "yes")
    end.to raise_error(/has changed meanwhile/)
  end

  it "offers an edited family with what differs, part by part" do
    ask(visit, account)
    with_edited_family do
      offer = Handrail::Store::Offer.of(record(visit))
      line = offer.changes.find { |change| change.path == "checks, slip, title" }
      expect(line).to have_attributes(
        what: "protocol",
        before: "Slipped after 10 m walk",
        after: "Slipped after 10 m walk (edited)"
      )
      run(visit, account, :TakeProtocol, offer: offer.digest, take: "yes")
      expect(record(visit).family.check("slip").title).to end_with "(edited)"
    end
    expect(record(visit).family.check("slip").title).to end_with "(edited)"
  end

  it "reads at each visit what was pinned then" do
    first = handed_over_visit(clinic, account)
    later = record(first).visits.last
    Handrail::Store::Product[first.fitting.product_id].update(
      options: Handrail::Store.json("type" => "dial")
    )
    ask(later, account)
    run(
      later,
      account,
      :TakeProtocol,
      offer: Handrail::Store::Offer.of(record(later)).digest,
      take: "yes"
    )
    expect([record(first).config["type"], record(later).config["type"]]).to eq %w[
         single_upright
         dial
       ]
  end

  it "keeps the versions of the methods, and the one that made a computed figure" do
    expect(record(visit).pin.methods).to eq Handrail::Methods::VERSIONS
    made = Handrail::Store::Product.first(clinic_id: DEMO.id, family: "lumbar_panel_brace")
    fitter = Handrail::Store::Account.first(email: "maren@heronquay.example")
    brace =
      make_visit(
        DEMO,
        fitter,
        product: made,
        side: nil,
        fields: {
          "indication" => "as ordered",
          "moving" => "free"
        }
      )
    ask(brace, fitter)
    take(brace, fitter, "112", site: "trunk_mid_rib_crest", side: nil)
    run(brace, fitter, :ChooseSize, size: record(brace).sizing.advice.size)
    expect(record(brace).sizing.choice[:sheet]["method"]).to eq Handrail::Methods::VERSIONS.fetch(
         "panel_arms"
       )
  end

  it "loads a kept text as the family that it was" do
    family = registry.fetch("compression_wrap")
    again = Handrail::Families::Family.from_text(family.text)
    expect([again.digest, again.checks({}).map(&:key)]).to eq [
         family.digest,
         family.checks({}).map(&:key)
       ]
  end
end

# frozen_string_literal: true

RSpec.describe Handrail::Wording do
  sizing = Handrail::Sizing
  let(:sizes) do
    { "S" => { "calf" => 320..354 }, "M" => { "calf" => 355..375 }, "L" => { "calf" => 376..410 } }
  end

  def said(text, **how)
    match = chart(sizes).match([reading(text, site: "calf")], **how)
    described_class.remarks(match.remarks)
  end

  def row(size, min, max, site: "calf", part: "")
    Handrail::Sizing::Chart::Row[
      part: part,
      size: size,
      site: site,
      min: min.to_r,
      max: max.to_r,
      unit: "cm"
    ]
  end

  it "tells why a size, as a fitter would" do
    expect(said("35.2 cm")).to match(
      /\ACalf 35.2 cm lies in S \(32 to 35.4 cm\). \d\d in 100 that S is the size: 2 mm inside the upper/
    )
    expect(said("31 cm")).to include "10 mm under the smallest band (32 to 35.4 cm). No size"
    expect(said("45 cm")).to include "40 mm over the largest band (37.6 to 41 cm). No size"
    expect(said("37.55 cm")).to include(
      "Calf 37.55 cm lies in no band: it is between M and L. This chart takes the larger size: L."
    )
  end

  it "says why a stop stands: in the protocol's words, or by what was seen, sent back, timed or computed" do
    {
      { text: "Cold toes." } => "Cold toes",
      { skin: "blister" } => "A blister where the device lies",
      { skin: "open", side: "left" } => "Left: Open skin where the device lies",
      { text: "Cold toes.", side: "right" } => "Right: Cold toes",
      { text: "Cold toes.", side: nil } => "Cold toes",
      { sent: "ask for another hinge" } => "Back to the prescriber: ask for another hinge",
      { timer: "Skin after 20 minutes" } => "Skin after 20 minutes: looked, and not well",
      { index: 0.474, side: "left" } => "Left ankle-brachial index 0.47, below 0.5: no compression"
    }.each { |figures, words| expect(described_class.sign(figures)).to eq words }
  end

  it "gives no whole percent where it is surer than 99 in 100, or less sure than 1" do
    chance = ->(share) do
      about = { size: "M", by: 1.0, inside: true, upper: true, site: "calf", probability: share }
      described_class.remark(sizing::Remark[code: "closeness", figures: about])
    end
    expect([chance[0.996], chance[0.9], chance[0.004]]).to match [
            /\AMore than 99 in 100/,
            /\A90 in 100/,
            /\ALess than 1 in 100/
          ]
  end

  it "names the part where a chart has several, and how each reading votes" do
    rows = [
      row("1", 230, 250, site: "foot", part: "foot"),
      row("2", 251, 270, site: "foot", part: "foot"),
      row("S", 320, 355, part: "leg"),
      row("S", 500, 550, site: "thigh", part: "leg"),
      row("M", 356, 375, part: "leg"),
      row("M", 551, 600, site: "thigh", part: "leg")
    ]
    readings = { "foot" => "24 cm", "calf" => "33 cm", "thigh" => "58 cm" }
    match = sizing::Chart.build(rows).match(readings.map { |site, text| reading(text, site: site) })
    expect(described_class.remarks(match.remarks)).to start_with(
      "foot: foot 24 cm lies in 1 (23 to 25 cm). leg: The readings do not agree on a size: " \
        "calf 33 cm says S, thigh 58 cm says M. This chart takes the larger size: M."
    )
  end

  it "says which reading is there and can not stand in" do
    match =
      sizing::Chart.build(
        [
          sizing::Chart::Row[
            part: "",
            size: "S",
            site: "calf",
            min: 320.to_r,
            max: 355.to_r,
            unit: "cm",
            tension: "firm"
          ]
        ]
      ).match([reading("33 cm", site: "calf", posture: "sitting", tension: "snug")])
    expect(described_class.remarks(match.displaced)).to eq(
      "The chart wants calf firm; the reading there is sitting, snug, and can not stand in for it."
    )
  end

  it "keeps its sense through a summary, where all is text" do
    doubt = chart(sizes).match([reading("37.55 cm", site: "calf")]).remarks.first
    kept = JSON.parse(JSON.generate(about: doubt.to_h))
    expect(described_class.next_step(:size_doubt, kept)).to eq described_class.remark(doubt)
    # as it was kept before
    expect(described_class.next_step("size_doubt", { "text" => "Between M and L." })).to eq(
      "Between M and L."
    )
  end

  it "says what each tie rule does" do
    names = %w[larger smaller nearest]
    rules = names.map { |name| described_class.tie_rule(sizing::TieRule.new(name)) }
    expect(rules).to eq(names.map { |name| "This chart takes the #{name} size" })
    primary = sizing::TieRule.new("primary", primary: "calf_widest")
    expect(described_class.tie_rule(primary)).to match(/\AOn this chart .*calf.* decides\z/)
  end

  it "says fault and mend of a chart's row, and its line where it came from a file" do
    found = ->(*rows) { sizing::ChartCheck.new(rows).findings.first }
    expect(described_class.chart_finding(found[row("S", 349, 300)])).to eq(
      "size S, calf: min 34.9 cm is above max 30 cm. Swap them."
    )
    twice = found[row("S", 300, 349), row("M", 350, 399), row("M", 350, 399)]
    expect(described_class.chart_finding(twice, [2, 3, 5])).to eq(
      "size M, calf is there twice (line 3). Keep one of them."
    )
    expect(described_class.chart_fault(twice)).to include "(row 2)"
  end

  # every kind of fault that the check can find is worded, whatever it is about
  it "has words for every fault of a chart" do
    source = File.read(File.join(__dir__, "../../lib/handrail/core/sizing/chart_check.rb"))
    kinds = source.scan(/finding\(\s*:(\w+)/).flatten + %w[contradiction out_of_order]
    about = {
      part: "leg",
      size: "S",
      site: "calf",
      min: "1 cm",
      max: "2 cm",
      from: "3 cm",
      to: "4 cm",
      other: "M",
      by: "L",
      near: "5 cm",
      slip: :inches,
      ways: [%w[lying snug], [nil, nil]]
    }
    said =
      kinds.uniq.map do |kind|
        described_class.chart_finding(
          sizing::ChartCheck::Finding[kind: kind.to_sym, row: 0, first: 1, figures: about]
        )
      end
    expect(said.size).to eq 10
    expect(said).to all(match(/\A[^%]*\.\z/))
    expect(said.last(1)).to all(include("M").or(include("S")))
  end

  it "says of a leg's pressure index what follows" do
    found = ->(**typed) do
      read, = Handrail::Compression::AnkleBrachial.read(typed.transform_keys(&:to_s))
      described_class.ankle_index(read.findings(["left"]).first)
    end
    {
      "69" => "Left index 0.49: below 0.5. No compression, refer urgently.",
      "100" => "Left index 0.71: 0.5 to 0.8. Compression only on a specialist's word.",
      "140" => /\ALeft index 1.00: within 0.8 to 1.3/,
      "190" => /\ALeft index 1.36: above 1.3.*ask the prescriber/
    }.each do |ankle, words|
      expect(found[arm_left: "140", ankle_left_front: ankle]).to match(words)
    end
    expect(found[arm_left: "140"]).to start_with "Left index not known: one arm and one ankle"
  end

  it "says which step goes first, in the family's words where it has some" do
    step = Handrail::Families::Step
    expect(described_class.goes_first(step[title: "Calf strap"])).to eq "Calf strap goes first."
    expect(
      described_class.goes_first(step[title: "Calf strap", why: "It holds."])
    ).to eq "It holds."
    swapped = described_class.order_swapped(step[title: "Shin"], [step[title: "Thigh"]])
    expect(swapped).to eq "Shin before Thigh"
    expect(described_class.order_swapped(step[title: "Shin"], [])).to be_nil
  end

  it "says in which order it is looked, as the family's checks stand" do
    expect(described_class.posture_order(%w[lying standing sitting])).to eq(
      "Lying first, then standing, sitting."
    )
    expect(described_class.posture_order(%w[standing])).to eq "All of it standing."
    expect(described_class.posture_order([])).to eq "As the checks stand."
  end

  # a line of a sheet without words would be an error only when it is first printed
  describe "what the computed sheets say" do
    sizing::SHEETS.each do |key|
      it "has words for every line and note of #{key}, and none that nothing says" do
        folder = File.join(__dir__, "../../lib/handrail/core/sizing/sheets")
        source = Dir[File.join(folder, "#{key}{,_v*}.rb")].map { |path| File.read(path) }.join
        tree = I18n.t!("sizing.#{key}")
        tree[:lines].each_value { |words| expect(words.keys).to eq %i[label how] }
        tree
          .values_at(:lines, :notes)
          .flat_map(&:keys)
          .each do |name|
            # names that a sheet puts together: of a limb, of a side
            known = name.to_s.sub(/\A(?:thigh|calf)_(needed|trim|short)\z/, '}_\1')
            known = known.sub(/\A(clip|bevel)_(over|under)\z/, "\#{which}_")
            known = known.sub(/\Aopening_(left|right)\z/, 'opening_#{side')
            expect(source).to include(known), "nothing says #{key} #{name}"
          end
      end
    end

    # the demo's and the spec's sheets in every state are printed elsewhere; here each word is
    # filled with every figure that its source may give
    it "prints no figure that is not given" do
      inputs =
        { heel: "60 mm", wedges: ["2 mm", "4 mm"] }.transform_values do |text|
          Array(text).map { |one| length(one) }
        end
      make = ->(**more) do
        sizing.sheet_maker("heel_wedge").make(
          "Wedge",
          { heel: inputs[:heel].first, wedges: inputs[:wedges], step: 2, limit: 6, **more }
        )
      end
      sheet = make[degrees: 3.0, towards: "medial"]
      lines = sheet.lines.map { |line| described_class.sheet_line(line) }
      expect(lines).to eq [
           ["Wedge height", "3.1 mm", "heel width 60 mm x tan 3 degrees, under the inner edge"],
           ["Bevel steps", "2", "2 degrees a step, look again after each"],
           ["Clip-on wedges", "4 mm is 3.8 degrees", "the nearest of 2 mm and 4 mm at this heel"]
         ]
      expect(described_class.remark(sheet.notes.last.remark)).to eq(
        "3 of 6 degrees are used, 3 are left before the prescriber is asked."
      )
      advice = sizing::Advice::BySheet[sheet: sheet]
      expect(described_class.grounds(advice)).to start_with "Wedge height 3.1 mm. Bevel steps 2."
      blind = make[degrees: 4.0, towards: nil]
      expect(described_class.remarks(sizing::Advice::BySheet[sheet: blind].remarks)).to eq(
        "Which edge is raised, inner or outer, is still to be ordered for 4 degrees."
      )
    end
  end
end

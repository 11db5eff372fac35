# frozen_string_literal: true

require "tmpdir"

# What the trade says of each device family (common practice, no source, unless a line names one),
# held against the knowledge files.
RSpec.describe Handrail::Families do
  def fam(key) = Handrail::Families::Registry.fetch(key)
  def first_strap(key) = fam(key).all_steps.find(&:first)&.strap
  def check(key, name) = fam(key).check(name)
  def sites(key, **config) = fam(key).needs_for(config.transform_keys(&:to_s)).map(&:site)

  it "has all families, each with stop signs, cautions, one final check, problems and a wear plan" do
    expect(Handrail::Families::Registry.all.keys).to match_array %w[
                  knee_unloader
                  knee_frame
                  knee_cage
                  kafo
                  knee_sleeve
                  patella_stabiliser
                  ankle_sleeve
                  ankle_lace_up
                  ankle_stirrup
                  foot_insole
                  lumbosacral_support
                  lumbar_panel_brace
                  abdominal_support_belt
                  scoliosis_unloader
                  kyphosis_arm
                  anti_embolism_stocking
                  graduated_stocking
                  compression_wrap
                  gait_harness
                  stimulator_cuff
                  canine_splint
                  canine_hock_brace
                ]
    Handrail::Families::Registry.all.each_value do |family|
      expect(
        [family.stop_signs.size, family.care_prompts.size, family.problems.size, family.tasks.size]
      ).to all(be >= 2).or all(be >= 1)
      expect(family.caution_note).to include("does not diagnose")
      expect(family.wear["stop_and_call"]).not_to be_empty
    end
  end

  it "offers a way out of every check that can fail, or says it is the final one" do
    Handrail::Families::Registry.all.each_value do |family|
      covered = family.problems.flat_map { |problem| problem.shows_in.to_a }
      measured = family.all_checks.select(&:measured?).map(&:key)
      missing = measured - covered - family.all_steps.flat_map { |step| step.opens.to_a }
      expect(missing).to be_empty, "#{family.key}: #{missing.join(", ")}"
      family.problems.each { |problem| expect(problem.remedies).not_to be_empty }
    end
  end

  it "closes the strap first that the trade closes first" do
    expect(
      {
        "knee_unloader" => "calf",
        "knee_frame" => "calf",
        "knee_cage" => "kneecap",
        "canine_splint" => "bottom",
        "canine_hock_brace" => "bottom",
        "compression_wrap" => "lowest",
        "lumbosacral_support" => "front"
      }.to_h { |key, strap| [key, first_strap(key) == strap] }.values
    ).to all(be true)
    expect(first_strap("ankle_lace_up")).to be_nil
  end

  {
    %w[knee_unloader hinge_height] => ["at_most", 5],
    %w[knee_unloader slip] => ["under", 10],
    %w[lumbosacral_support centred] => ["under", 10],
    %w[abdominal_support_belt opening] => ["at_most", 5],
    %w[knee_frame slip] => ["under", 10]
  }.each do |(family, name), (kind, limit)|
    it "passes #{name} of #{family} at #{kind} #{limit} mm" do
      found = check(family, name)
      expect([found.kind, found.criterion.limits]).to eq ["length", { kind => limit }]
      judged = [limit - 1, limit, limit + 1].map { |mm| found.good?(Rational(mm)) }
      expect(judged).to eq [true, kind == "at_most", false]
    end
  end

  # NICE NG89, 2018, from memory
  it "asks the contraindications of an anti-embolism stocking first, and names their source" do
    texts = fam("anti_embolism_stocking").stop_signs.map(&:text).join("; ")
    [
      "peripheral arterial disease",
      "bypass graft",
      "neuropathy",
      "dermatitis, gangrene, recent graft",
      "Allergy to the material",
      "swelling of the legs",
      "too large or too odd in shape"
    ].each { |text| expect(texts.downcase).to include(text.downcase) }
    expect(fam("anti_embolism_stocking").caution_source).to eq "NICE NG89, 2018, from memory"
  end

  # pressures from memory; the standard is named with each class
  it "names the standard with every class of compression" do
    labels = fam("graduated_stocking").fields.find { |f| f.key == "class" }.choices.map(&:label)
    expect(labels).to include(
      "RAL-GZ 387/1 class 2: 23 to 32 mmHg",
      "BS 661210 class 2: 18 to 24 mmHg"
    )
    expect(labels).to all(match(%r{\A(RAL-GZ 387/1|BS 661210) class \d: .*mmHg}))
    expect([fam("graduated_stocking").index, fam("compression_wrap").index]).to eq %w[
         ankle_brachial
         ankle_brachial
       ]
  end

  it "measures what each order needs, and no more" do
    expect(sites("anti_embolism_stocking", length: "knee")).to eq %w[
         calf_widest
         heel_to_knee_crease
       ]
    expect(sites("anti_embolism_stocking", length: "thigh")).to eq %w[
         calf_widest
         heel_to_gluteal_fold
         thigh_widest
       ]
    expect(sites("canine_splint", limb: "hind")).to all(match(/hock|hind|stifle/))
    expect(sites("canine_splint", limb: "front")).to all(match(/carpus|fore/))
    expect(sites("knee_frame")).to eq %w[
         thigh_15_above_mid_patella
         knee_mid_patella
         calf_15_below_mid_patella
       ]
  end

  it "supports both hip schools and the trunk between them, and says which the product follows" do
    family = fam("lumbosacral_support")
    expect(family.option("school").choices.map(&:key)).to eq %w[crest_trochanter fullest rib_crest]
    expect(family.needs.select { |n| n.use == "size_if_charted" }.map(&:site)).to eq %w[
         hip_mid_crest_trochanter
         hip_fullest
         trunk_mid_rib_crest
       ]
    expect(
      family.fill("{back_edge}", family.config({}, { "back_edge" => "trochanters" }))
    ).to eq "level with the greater " \
         "trochanters"
  end

  it "keeps a mark's kind: the least pull for a wrap, a reference for a brace" do
    expect(fam("compression_wrap").marks["kind"]).to eq "least"
    expect(Handrail::Families::Registry.all.values.map { |f| f.marks["kind"] }.tally).to eq(
      "reference" => 21,
      "least" => 1
    )
  end

  it "teaches whoever puts it on: the wearer, a carer for the harness, the owner of a dog" do
    expect(
      %w[knee_unloader gait_harness canine_splint canine_hock_brace].map do |key|
        fam(key).teach_who
      end
    ).to eq %w[wearer carer owner owner]
  end

  it "rechecks a wrap weekly, a stocking half-yearly, an unloader after one to two weeks" do
    plan = ->(key) { fam(key).recheck_plan }
    expect(plan["compression_wrap"].last.every_days).to eq 7
    expect(plan["graduated_stocking"].last.every_days).to eq 182
    expect(plan["knee_unloader"].first.then { |p| [p.from_days, p.to_days] }).to eq [7, 14]
  end

  it "configures the code from side and compartment, in a mirror" do
    codes =
      %w[left right]
        .product(%w[medial lateral])
        .map do |side, compartment|
          fam("knee_unloader").configuration(
            { "side" => side, "compartment" => compartment, "type" => "dial" }
          ).gives[
            "code"
          ]
        end
    expect(codes).to eq %w[L-med L-lat R-med R-lat]
  end

  it "describes an order in a fitter's words" do
    expect(
      fam("anti_embolism_stocking").describe({ "side" => "both", "length" => "thigh" })
    ).to eq "anti-embolism stocking, both " \
         "sides, thigh length"
    expect(
      fam("canine_hock_brace").describe({ "side" => "left", "joint" => "solid" })
    ).to eq "left hock brace, solid"
  end

  describe "options of a product" do
    let(:belt) { fam("abdominal_support_belt") }

    it "are read as the core takes them, and refused in words" do
      widths = belt.option("belt_widths")
      expect(widths.value(["8 cm", "4 in"]).map(&:mm)).to eq [80, Rational(508, 5)]
      expect(widths.fault(["8 cm", "wide"])).to include("Stock widths: “wide” can not be read")
      expect(fam("lumbosacral_support").option("casings").fault("six")).to include(
        "“six” is not a number"
      )
      expect(fam("lumbosacral_support").option("school").fault("mine")).to include("choose one of")
      expect(widths.print(["8 cm", "10 cm"])).to eq "8 cm, 10 cm"
    end
  end

  insole = "foot_insole"
  {
    "a sheet that is none" => [
      ->(raw) { raw["derive"][0]["sheet"] = "toe_wedge" },
      /there is no sheet toe_wedge/
    ],
    "an input that the sheet does not take" => [
      ->(raw) { raw["derive"][0]["inputs"]["sole"] = { "reading" => "heel_width" } },
      /takes no sole/
    ],
    "an input that is lacking" => [
      ->(raw) { raw["derive"][0]["inputs"].delete("heel") },
      /heel is not given/
    ],
    "an input from nowhere" => [
      ->(raw) { raw["derive"][0]["inputs"]["degrees"] = { "field" => "angle" } },
      /no field is called angle/
    ],
    "a shared caution that is none" => [
      ->(raw) { raw["cautions"]["stop"] << "warm_toes" },
      /no stop called warm_toes/
    ],
    "a default that can not be read" => [
      ->(raw) { raw["options"].find { |o| o["key"] == "wedges" }["default"] = ["thin"] },
      /can not be read/
    ],
    "a trial without its questions" => [->(raw) { raw["size"].delete("asks") }, /size/]
  }.each do |what, (change, message)|
    it "refuses #{what}" do
      raw = YAML.safe_load_file(File.join(Handrail::Families::Registry::FOLDER, "#{insole}.yml"))
      Dir.mktmpdir do |dir|
        change.call(raw)
        path = File.join(dir, "changed.yml").tap { |file| File.write(file, raw.to_yaml) }
        expect { Handrail::Families::Family.load(path) }.to raise_error(
          Handrail::Knowledge::Faulty,
          message
        )
      end
    end
  end
end

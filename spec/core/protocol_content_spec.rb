# frozen_string_literal: true

# What every protocol must say so that nobody is hurt (common practice, no source).
RSpec.describe Handrail::Families do
  families = Handrail::Families::Registry.all

  def fam(key) = described_class::Registry.fetch(key)
  def config(family, order, options = {}) = family.config(order, options)

  families.each_value do |family|
    it "#{family.key}: answers distress with its own way out, then with a stop sign" do
      family
        .all_checks
        .select(&:distress)
        .each do |check|
          shows =
            family.problems.find do |one|
              one.shows_in.include?(check.key) && one.remedies.first.distress
            end
          first = shows&.remedies&.first
          expect(first&.why.to_s).to include("{way_out}"), check.key
          stops = shows.remedies.filter_map(&:stop)
          expect(stops).to eq([check.distress]), check.key
          expect(family.sign(check.distress).urgency).to match(/emergency|today/)
        end
    end

    it "#{family.key}: looks for the right device first, and says how it comes off" do
      expect(family.all_steps.first.key).to start_with("right_").or eq("weigh").or eq("helper")
      expect(family.all_steps.map(&:key).grep(/\Aoff_/).size).to be >= 2
      expect(family.wear["stop_and_call"].size).to be >= 2
    end

    it "#{family.key}: looks again at a recheck at what it looked at when it was fitted" do
      expect(family.recheck_check_keys - family.all_checks.map(&:key)).to be_empty
      expect(family.recheck_check_keys).to include(family.all_checks.find(&:final).key)
    end
  end

  it "reads the heights of a long leg orthosis standing or lying, never seated" do
    heights =
      %w[mid_patella_height condyle_height malleolus_height].map do |key|
        Handrail::Anatomy::Vocabulary.default.fetch(key)
      end
    expect(heights.flat_map(&:postures).uniq).to eq %w[standing lying]
  end

  it "does not make a wearer stand who may only be rolled, nor lets the brace be loosened to sit" do
    brace = fam("lumbar_panel_brace")
    asked = ->(moving) do
      brace.needs_for(config(brace, "moving" => moving)).map { |need| [need.site, need.posture] }
    end
    expect(asked["log_roll"]).to eq [%w[trunk_mid_rib_crest lying]]
    expect(asked["free"].first).to eq %w[trunk_mid_rib_crest standing]
    expect(brace.rules("moving" => "free").join).to include("not loosened to sit")
  end

  it "counts what was found at each heel with what was ordered for it" do
    insole = fam("foot_insole")
    order = config(insole, "side" => "both", "degrees_left" => "4", "degrees_right" => "1")
    passed = ->(side, found) { insole.passed_limits(order, { "found" => found }, side).size }
    expect([passed["left", "2"], passed["left", "2.5"], passed["right", "2.5"]]).to eq [0, 1, 0]
    # an outer step takes from an inner one, and has a limit of its own
    edges =
      config(
        insole,
        "side" => "left",
        "degrees_left" => "4",
        "towards_left" => "medial",
        "limit_outward" => "2"
      )
    found = ->(degrees, edge) do
      insole
        .passed_limits(edges, { "found" => degrees, "found_towards" => edge }, "left")
        .map { |one| one.first.key }
    end
    expect(found["3", "lateral"]).to eq []
    expect(found["3", "medial"]).to eq %w[degrees_{side}+found]
    outer =
      config(
        insole,
        "side" => "left",
        "degrees_left" => "0",
        "towards_left" => "lateral",
        "limit_outward" => "2"
      )
    passed_outer =
      insole.passed_limits(outer, { "found" => "4", "found_towards" => "lateral" }, "left")
    expect(passed_outer.map(&:last)).to eq %w[2]
  end

  it "closes the lowest strap of a wrap first, and as many as the leg needs" do
    wrap = fam("compression_wrap")
    sheet =
      Handrail::Sizing::Sheet[
        key: "wrap_straps",
        count: 7,
        title: "",
        state: :good,
        lines: [],
        notes: [],
        missing: []
      ]
    straps = wrap.straps_for({}, "wrap_straps" => sheet)
    expect(straps.map(&:number)).to eq [1, 2, 3, 4, 5, 6, 7]
    expect(wrap.apply({}).find(&:first).strap).to eq "lowest"
  end

  it "tells a long stocking another top edge than a short one" do
    stocking = fam("graduated_stocking")
    edges =
      %w[knee thigh].map do |length|
        stocking.checks("length" => length).map(&:key).grep(/top_edge/)
      end
    expect(edges).to eq [%w[top_edge], %w[top_edge_thigh]]
  end

  it "sees the toes of an anti-embolism stocking only where it has an opening, every day" do
    stocking = fam("anti_embolism_stocking")
    seen =
      %w[above none].map do |opening|
        stocking.checks("toe_opening" => opening).map(&:key) & %w[toes_seen toes_free]
      end
    expect(seen).to eq [%w[toes_seen], %w[toes_free]]
    expect(stocking.recheck_plan.first.every_days).to eq 1
  end

  it "looks before lifting in a harness, then after the first minute" do
    keys = fam("gait_harness").apply({}).map(&:key)
    expect(keys.index("before_lift")).to be < keys.index("lift")
    expect(keys.index("lift")).to be < keys.index("minute")
  end

  it "stops for a rupture that hurts, and refers one that does not go back" do
    belt = fam("abdominal_support_belt")
    expect(belt.stop_signs.find { |sign| sign.key == "hernia_hard" }.urgency).to eq "emergency"
    expect(belt.problem("not_back").remedies.last).to have_attributes(
      stop: "hernia_hard",
      distress: true
    )
  end

  it "never moves a stimulator's electrode off the place where it works" do
    said =
      fam("stimulator_cuff").problem("foot_drops").remedies.find { |one| one.key == "nerve_clear" }
    expect(said.title).to include("looser").and include("off the bone")
    expect(said.why).not_to include("never on it")
  end

  it "pulls a sleeve up before it asks for another" do
    rolls = fam("knee_sleeve").problem("rolls")
    first =
      %w[pull_on wrap].map { |cut| rolls.remedies.find { |one| one.applies?("cut" => cut) }.key }
    expect(first).to eq %w[pull_again lay_again]
  end

  it "asks who has no stoma nothing about one" do
    belt = fam("abdominal_support_belt")
    config = { "pouch" => "none", "goes_back" => "yes", "stoma_side" => "left" }
    said = belt.way_out(config) + belt.calls(config) + belt.tasks_for(config).map(&:text)
    said += belt.problems_for(config).map(&:title) + belt.doff(config).map(&:do)
    expect(said.grep(/stoma|pouch|opening/i)).to eq []
    expect(belt.way_out({ **config, "pouch" => "one_piece" }).last).to include "stoma"
  end
end

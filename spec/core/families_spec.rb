# frozen_string_literal: true

require "tmpdir"

RSpec.describe Handrail::Families do
  let(:raw) do
    YAML.safe_load_file(File.join(Handrail::Families::Registry::FOLDER, "knee_unloader.yml"))
  end

  def load_changed
    Dir.mktmpdir do |folder|
      yield raw
      File.write(path = File.join(folder, "changed.yml"), raw.to_yaml)
      Handrail::Families::Family.load(path)
    end
  end

  it "loads every family on the shelf" do
    expect(Handrail::Families::Registry.all.keys).to include("knee_unloader")
  end

  it "mirrors the configuration from side to side" do
    gives =
      lambda do |side, compartment|
        family.configuration(
          { "side" => side, "compartment" => compartment, "type" => "single_upright" }
        ).gives[
          "upright"
        ]
      end
    expect([gives["left", "medial"], gives["right", "medial"], gives["left", "lateral"]]).to eq %w[
         outer
         outer
         inner
       ]
  end

  it "shows only what the product's type needs" do
    keys = ->(type) do
      family.steps(family.config({ "side" => "left" }, { "type" => type })).map(&:key)
    end
    expect(keys["dial"] - keys["single_upright"]).to contain_exactly(
      "dials_low",
      "dynamic_straps",
      "dials_middle",
      "popliteal_pad",
      "dials_off",
      "dials_trim",
      "dials_on"
    )
  end

  it "puts the product's landmark school into the words" do
    config = family.config({}, { "height_landmark" => "top_of_kneecap" })
    expect(
      family.fill(family.check("hinge_height").title, config)
    ).to eq "Hinge level with the top of the kneecap"
  end

  {
    "a missing section" => [->(raw) { raw.delete("checks") }, /changed\.yml: the file: .*checks/],
    "a wrong word" => [
      ->(raw) { raw["checks"][0]["pass"]["kind"] = "roughly" },
      /checks\.0\.pass\.kind/
    ],
    "an unknown site" => [
      ->(raw) { raw["measure"][0]["site"] = "elbow" },
      /no site is called elbow/
    ],
    "an unknown check" => [
      ->(raw) do
        raw["problems"].find { |p| p["key"] == "slides_down" }["remedies"][0]["opens"] << "mood"
      end,
      /slides_down\.reseat_calf_strap\.opens: no check is called mood/
    ],
    "an unknown strap" => [
      ->(raw) { raw["apply"][3]["strap"] = "chin" },
      /no strap is called chin/
    ],
    "an impossible condition" => [
      ->(raw) { raw["apply"][0]["when"] = { "type" => ["rocket"] } },
      /nothing is called type: rocket/
    ],
    "a check that no problem shows in" => [
      ->(raw) do
        raw["checks"].unshift("key" => "mood", "title" => "Mood", "pass" => { "kind" => "yes_no" })
      end,
      /no problem shows in mood/
    ],
    "a remedy that leads nowhere" => [
      ->(raw) do
        raw["problems"].find { |p| p["key"] == "slides_down" }["remedies"][0]["opens"] = []
      end,
      /reseat_calf_strap: it opens no check and leads nowhere/
    ],
    "a strap without a place" => [->(raw) { raw["straps"][0].delete("level") }, /has no level/],
    "two final checks" => [->(raw) { raw["checks"][0]["final"] = true }, /only one, is to be final/]
  }.each do |what, (change, message)|
    it "refuses a file with #{what}, naming file and key" do
      expect { load_changed(&change) }.to raise_error(Handrail::Knowledge::Faulty, message)
    end
  end

  it "asks for the order in the family's own fields" do
    compartment, = family.fields
    expect(compartment.fault("")).to include("needed")
    expect(compartment.fault("middle")).to include("choose one of")
    expect(family.fields.find { |f| f.key == "hours_on_feet" }.fault("25")).to include("0 to 24")
  end
end

RSpec.describe Handrail::Followup do
  let(:start) { Date.new(2026, 11, 24) }

  it "plans two weeks, six weeks, then every half year" do
    nth = ->(*done) do
      Handrail::Followup::Plan.next(family.recheck_plan, handed_over: start, done: done)
    end
    expect(nth[]).to have_attributes(from: start + 7, to: start + 14)
    expect(nth[start + 10]).to have_attributes(from: start + 42, key: "settled")
    expect(nth[start + 10, start + 45]).to have_attributes(from: start + 45 + 182, key: "routine")
    expect(nth[].state(start + 15)).to eq :overdue
    # held on the day of the hand-over, or twice on one day, it stands for no planned one
    expect(nth[start, start, start + 3].key).to eq nth[].key
    expect(nth[start + 4, start + 4]).to have_attributes(from: start + 42)
  end

  it "calls a change a change only beyond measuring error" do
    pair = ->(a, b) do
      Handrail::Followup::ChangeOfGirth.new(
        "calf",
        *[a, b].map do |t|
          Handrail::Measuring::Repeats.new([length(t)], resolution: length("1 mm"))
        end
      )
    end
    # sd 3.7 each: 1.96 * sqrt(3.72**2 + 3.63**2) = 10.2
    expect(pair["37.2 cm", "36.3 cm"]).to have_attributes(mm: -9, real?: false)
    expect(pair["37.2 cm", "36.1 cm"]).to have_attributes(mm: -11, real?: true)
  end
end

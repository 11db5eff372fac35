# frozen_string_literal: true

require "tmpdir"

# Hazards and their controls: each control exists, and nothing grave hangs on one memory alone.
RSpec.describe Handrail::Families::Hazards do
  text = File.read(described_class::FILE)

  def changed(text)
    Dir.mktmpdir do |folder|
      path = File.join(folder, "hazards.yml")
      File.write(path, text)
      yield path
    end
  end

  it "knows at least 60, and has two memories against every grave one, in every family" do
    expect(described_class.all.size).to be >= 60
    expect(described_class.lacking.map { |one| [one.hazard.key, one.family, one.finding] }).to eq []
  end

  it "speaks of wearers, animals, fitters and others, from the order to the recheck, in every family" do
    all = described_class.all
    expect(all.map(&:who).uniq).to include("wearer", "animal", "fitter", "others")
    expect(all.flat_map(&:when).uniq).to match_array %w[order measure size fit wear recheck]
    expect(all.flat_map(&:families).uniq).to match_array Handrail::Families::Registry.all.keys
  end

  it "does not load a control that does not exist" do
    {
      "check: stoma_colour" => "check: stoma_color",
      "gate: check_distress" => "gate: check_stress",
      "law: no_way_back" => "law: no_way",
      "call: chest" => "call: heart",
      "sheet: bath" => "sheet: pool"
    }.each do |right, wrong|
      changed(text.sub("  - #{right}\n", "  - #{wrong}\n")) do |path|
        expect { described_class.all(path) }.to raise_error(
          Handrail::Knowledge::Faulty,
          /there is no #{wrong.sub(":", "")}/
        )
      end
    end
    changed(text.sub("  - gait_harness\n", "  - gate_harness\n")) do |path|
      expect { described_class.all(path) }.to raise_error(
        Handrail::Knowledge::Faulty,
        /no family is called/
      )
    end
  end

  it "finds what hangs on one memory" do
    one = text[/- key: driving\n.*?(?=\n- key)/m]
    changed(text.sub(one, one.sub("  - law: sheet\n", "  - call: chest\n"))) do |path|
      lacking = described_class.lacking(described_class.all(path))
      expect(lacking.map { |lack| [lack.hazard.key, lack.finding] }).to eq [
           ["driving", "all rest on the wearer's memory"]
         ]
    end
  end

  it "has words for every gate that it names" do
    expect(Handrail::Fitting::BLOCKS).to match_array(
      Handrail::Wording.t("blocks").keys.reject { |key| key.end_with?("_animal") }
    )
  end

  it "is the document" do
    out = StringIO.new
    Handrail::Exchange::HazardsCommand.run(%w[--markdown], out: out)
    expect(File.read(File.join(Handrail::ROOT, "docs", "hazards.md"))).to eq out.string
  end
end

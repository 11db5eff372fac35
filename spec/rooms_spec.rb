# frozen_string_literal: true

require "fileutils"
require "json"
require "open3"
require "tempfile"
require "tmpdir"
require "store_helper"
require_relative "support/broken_families"

# What a newcomer adds has a room: each is added here, in as many places as docs/changing.md says.
RSpec.describe "Adding to a room of the house" do
  # what a script says, as JSON, in a copy of the program to which the block adds
  def added_to(script)
    Dir.mktmpdir do |copy|
      %w[lib knowledge].each { |room| FileUtils.cp_r(File.join(Handrail::ROOT, room), copy) }
      yield copy
      told, status =
        Open3.capture2(
          Gem.ruby,
          "-e",
          "require 'json'; require 'date'; require './lib/handrail'; puts JSON.generate(#{script})",
          chdir: copy
        )
      expect(status).to be_success
      JSON.parse(told)
    end
  end

  it "takes a language as one folder: its name, letters, the sheet's words, the protocols' and its formula" do
    script = <<~RUBY
      [
        Handrail::Language::ALL["nl"],
        Handrail::Language.of("nl").say("Sit"),
        Handrail::Followup::Letters.say("moved", "nl", clinic: "Heron Quay", day: Date.new(2026, 12, 1), time: "9:00", phone: "", name: ""),
        Handrail::Families::Readability.grade(["Ga zitten."], "nl")
      ]
    RUBY
    name, sit, moved, grade =
      added_to(script) do |copy|
        languages = File.join(copy, "knowledge", "languages")
        FileUtils.cp_r(File.join(languages, "de"), File.join(languages, "nl"))
        files =
          %w[letters texts reading].to_h { |one| [one, File.join(languages, "nl", "#{one}.yml")] }
        letters = YAML.safe_load_file(files["letters"])
        letters["name"] = "Nederlands"
        letters["letters"]["moved"] = "Nieuwe afspraak. #{letters["letters"]["moved"]}"
        File.write(files["letters"], YAML.dump(letters))
        File.write(files["texts"], YAML.dump("texts" => [{ "en" => "Sit", "nl" => "Ga zitten" }]))
        File.write(
          files["reading"],
          YAML.dump("constant" => 1.5, "times" => { "words_in_a_sentence" => 2 })
        )
      end
    expect([name, sit, moved]).to match [
            "Nederlands",
            "Ga zitten",
            /\ANieuwe afspraak. Heron Quay: .+9:00/
          ]
    expect(grade).to eq 1.5 + (2 * 2)
  end

  # the other place is the constraint of the rows that say where a value came from
  it "takes an instrument as an entry of kinds.yml: its stand-in sends, and it answers its kind of check" do
    script = <<~RUBY
      begin
        scale = Handrail::Instruments::StandIn.new("scale", seed: 1).start
        ENV["HANDRAIL_SCALE"] = "127.0.0.1:\#{scale.port}"
        wire = Handrail::Instruments.at("scale")
        wire.command("PRESS 82")
        read = wire.newest
        [read.kind, read.unit, read.value.to_f, read.message[/[^:]+/], Handrail::Instruments.answering("weight"),
         Handrail::Instruments.answering("pressure")]
      end
    RUBY
    kind, unit, value, name, weight, pressure =
      added_to(script) do |copy|
        File.write(File.join(copy, "lib/handrail/instruments/kinds.yml"), <<~YAML, mode: "a")
          scale:
            name: Platform scale
            units: {kg: 1}
            check: weight
            stand_in: {name: HP-1, unit: kg, noise: 0.1, drift: 0, asks: kg on the platform, like: "82"}
        YAML
      end
    expect([kind, unit, name, weight, pressure]).to eq %w[scale kg HP-1 scale sensor]
    expect(value).to be_within(0.6).of(82)
  end

  describe "a kind of quantity" do
    let(:turns) do
      Handrail::Fitting::Kind[
        unit: "turns",
        reads: ->(text) { Rational(text.delete_suffix(" turns")) },
        prints: ->(value) { "#{value.to_i} turns" }
      ]
    end
    let(:raw) do
      BrokenFamilies
        .shipped
        .find { |one| one["checks"].any? { |check| check["pass"] } }
        .then { |one| BrokenFamilies.copy(one) }
        .tap do |one|
          one["checks"].find { |check| check["pass"] }["pass"] = {
            "kind" => "turns",
            "at_most" => "3 turns"
          }
        end
    end

    def read(raw)
      Tempfile.create(%w[family .yml]) do |file|
        file.write(YAML.dump(raw))
        file.flush
        Handrail::Knowledge.read(file.path, schema: "family") do |one|
          Handrail::Families::Shared.fill(one)
        end
      end
    end

    it "is refused in words while there is none of that name" do
      expect { read(raw) }.to raise_error(
        Handrail::Knowledge::Faulty,
        /pass\.kind: it is none of yes_no, length, angle/
      )
    end

    # and the constraint of the rows that are kept of it
    it "is an entry among the kinds: read from a family's file, typed, judged, printed" do
      stub_const(
        "Handrail::Fitting::Kind::ALL",
        { **Handrail::Fitting::Kind::ALL, "turns" => turns }.freeze
      )
      pass = read(raw)["checks"].find { |check| check["pass"] }["pass"]
      criterion = Handrail::Fitting::Criterion.read(pass)
      expect([criterion.unit, criterion.measured?, criterion.print(criterion.parse("2"))]).to eq [
           "turns",
           true,
           "2 turns"
         ]
      expect([3, 4].map { |value| criterion.good?(value) }).to eq [true, false]
    end
  end

  it "takes what is to be forgotten as one entry: what stands is read, what has ended goes",
     :rolled_back do
    retention = Handrail::Store::Retention
    rule = retention::Rule[column: :at, seconds: 60, why: "as here"]
    stub_const("#{retention}::RULES", { **retention::RULES, device_presses: rule }.freeze)
    presses = Handrail::Store.db[:device_presses]
    now = Handrail::Store.now
    { "old" => now - 61, "new" => now - 59 }.each do |name, at|
      presses.insert(name: "H-#{name}", number: 1, moment: 1, at: at)
    end
    ours = { name: %w[H-old H-new] }
    expect(retention.standing(:device_presses).where(ours).select_map(:name)).to eq ["H-new"]
    expect(retention.sweep[:device_presses]).to be >= 1
    expect(presses.where(ours).select_map(:name)).to eq ["H-new"]
  end

  it "gives a file that was looked at for a day, and not until the next one comes", :rolled_back do
    account = make_account(make_clinic)
    files = Handrail::Store::WaitingFiles
    now = Handrail::Store.now
    id = files.put(account, "ines.zip", "bytes")
    found =
      [86_390, 86_410].map { |later| Handrail::Store.at(now + later) { files.bytes(account, id) } }
    expect(found).to eq ["bytes", nil]
  end

  it "forgets nothing of a wearer's record, nor what was done, by a clock" do
    dependent = Handrail::Store.db.fetch(<<~SQL).select_map(:table_name).map(&:to_sym)
      SELECT DISTINCT table_name FROM information_schema.columns
      WHERE table_schema = 'public' AND column_name IN ('patient_id', 'visit_id', 'fitting_id')
    SQL
    expect(dependent).to include(:readings, :visits)
    records = dependent + %i[patients entries changes audit_entries sign_ins account_events]
    expect(Handrail::Store::Retention::RULES.keys & records).to eq []
  end
end

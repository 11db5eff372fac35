# frozen_string_literal: true

require "open3"
require "tmpdir"

# The contracts of `bin/handrail review` and `bin/handrail hazards`, as somebody else's script would call them.
RSpec.describe Handrail::Exchange::ReviewCommand do
  folder = Handrail::Families::Registry::FOLDER

  def called(*arguments, command: described_class)
    out = StringIO.new
    err = StringIO.new
    status = command.run(arguments, out: out, err: err)
    [status, out.string, err.string]
  end

  # a shipped family, changed; yields the path
  def family(name, from = nil, to = nil, folder: Handrail::Families::Registry::FOLDER)
    Dir.mktmpdir do |made|
      path = File.join(made, "#{name}.yml")
      text = File.read(File.join(folder, "#{name}.yml"))
      File.write(path, from ? text.sub(from, to) : text)
      yield path
    end
  end

  it "prints nothing but its columns over what ships, with status 0" do
    expect(called).to eq [0, "law,family,place,finding\n", ""]
    expect(called("--family", "kafo", "--format", "json")).to eq [0, "[]\n", ""]
  end

  it "prints a row a breach, sorted by law, family and line, with status 1" do
    # the safe way out and the emergency are gone
    family("knee_cage", "  - text: \"Unlock both sides.\"\n", "") do |path|
      text =
        File
          .read(path)
          .sub(/- text: "Unlock both sides."\n/, "")
          .sub("  - chest\n  - A lock", "  - A lock")
      File.write(path, text)
      status, out, = called("--file", path)
      rows = CSV.parse(out, headers: true)
      expect(status).to eq 1
      expect(rows.headers).to eq %w[law family place finding]
      expect(rows.map { |row| row["law"] }).to eq %w[sheet way_out]
      expect(rows.map { |row| row["family"] }.uniq).to eq %w[knee_cage]
      place, line = rows.first["place"].split(":")
      expect([place, text.lines[line.to_i - 1].strip]).to eq %w[wear.stop_and_call stop_and_call:]
      json = JSON.parse(called("--file", path, "--format", "json")[1])
      expect(json.map(&:keys).uniq).to eq [%w[law family place finding]]
    end
  end

  it "says file, line and mend where it can not be read, with status 2" do
    {
      ["key: [", //] => /knee_cage\.yml, line \d+: it is no YAML.*Mend that line/m,
      ["checks:", /^checks:$/] => nil
    }.first(1)
      .each do |(text, _), said|
        Dir.mktmpdir do |made|
          path = File.join(made, "knee_cage.yml")
          File.write(path, text)
          status, out, err = called("--file", path)
          expect([status, out]).to eq [2, ""]
          expect(err).to match said
        end
      end
    family("knee_cage", /^checks:\n/, "chequers:\n") do |path|
      expect(called("--file", path)).to match [2, "", /knee_cage\.yml: .*checks/]
    end
    # whatever stands in the place of a list or a mapping
    %w[checks prepare problems wear cautions recheck].each do |name|
      ["5", "word", "[1, 2]", "[{a: 1}]", "{a: 1}"].each do |other|
        Dir.mktmpdir do |made|
          path = File.join(made, "knee_cage.yml")
          raw = YAML.safe_load_file(File.join(folder, "knee_cage.yml"))
          File.write(path, YAML.dump(raw.merge(name => YAML.safe_load(other))))
          status, out, err = called("--file", path)
          expect([name, other, status, out]).to eq [name, other, 2, ""]
          expect(err).to include("knee_cage.yml: ")
        end
      end
    end
    expect(called("--file", "/nowhere/x.yml")).to match [
            2,
            "",
            %r{/nowhere/x\.yml: No such file.*Name a file}
          ]
    expect(called("--family", "kaffo")).to match [
            2,
            "",
            /No device family is called “kaffo”.*kafo/m
          ]
    expect(called("--file", "x", "--family", "kafo").first).to eq 2
    expect(called("--colour").first).to eq 2
    Dir.mktmpdir do |made|
      path = File.join(made, "binary.yml")
      File.binwrite(path, "key: \xFF\xFE".b)
      expect(called("--file", path)).to match [2, "", /not UTF-8/]
    end
  end

  it "reads a family of somebody else as it reads its own" do
    family("ankle_sleeve", "key: ankle_sleeve", "key: harbour_sleeve") do |path|
      expect(called("--file", path)).to eq [0, "law,family,place,finding\n", ""]
    end
  end

  it "is called from the command line" do
    out, status =
      Open3.capture2(
        File.join(Handrail::ROOT, "bin", "handrail"),
        "review",
        "--family",
        "ankle_sleeve"
      )
    expect([out, status.exitstatus]).to eq ["law,family,place,finding\n", 0]
  end

  it "prints no hazard that hangs on one memory" do
    expect(called(command: Handrail::Exchange::HazardsCommand)).to eq [
         0,
         "hazard,severity,family,controls,finding\n",
         ""
       ]
    expect(called("--file", "/nowhere", command: Handrail::Exchange::HazardsCommand).first).to eq 2
  end

  it "knows #{Dir[File.join(folder, "*.yml")].size} families" do
    expect(Handrail::Families::Registry.all.size).to eq Dir[File.join(folder, "*.yml")].size
  end
end

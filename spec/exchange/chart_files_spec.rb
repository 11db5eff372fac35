# frozen_string_literal: true

require "tmpdir"

RSpec.describe Handrail::Exchange do
  around { |example| Dir.mktmpdir { |dir| @dir = dir and example.run } }

  let(:head) { "part,size,site,min,max,unit,posture,tension\n" }
  let(:good) do
    "#{head},S,calf_widest,30,34.9,cm,,\n,M,calf_widest,35,39.9,cm,,\n" \
      ",L,calf_widest,40,44.9,cm,raised,resting\n"
  end

  def file(text, name = "chart.csv") =
    File.join(@dir, name).tap { |path| File.binwrite(path, text) }
  def scan(text) = Handrail::Exchange::ChartFile.scan(file(text))

  describe "a chart as CSV" do
    it "comes back as it was written" do
      rows = Handrail::Exchange::ChartFile.rows(file(good))
      expect(
        Handrail::Exchange::ChartFile.rows(file(Handrail::Exchange::ChartFile.write(rows)))
      ).to eq rows
    end

    it "keeps inch fractions exact through writing and reading" do
      rows = Handrail::Exchange::ChartFile.rows(file("#{head},S,calf_widest,11 3/8,12 1/2,in,,\n"))
      again = Handrail::Exchange::ChartFile.rows(file(Handrail::Exchange::ChartFile.write(rows)))
      expect(again.first.min).to eq Rational(91, 8) * Rational(254, 10)
    end

    it "keeps every figure whole, and no cell that a spreadsheet would compute" do
      rows = Handrail::Exchange::ChartFile.rows(file("#{head},=1+1,calf_widest,0.3615,0.415,m,,\n"))
      text = Handrail::Exchange::ChartFile.write(rows)
      expect(text.lines.last).to eq ",'=1+1,calf_widest,0.3615,0.415,m,,\r\n"
      expect(Handrail::Exchange::ChartFile.rows(file(text))).to eq rows
    end

    it "names every fault at once, with line and mend" do
      faults =
        scan(
          "#{head},S,calf_widest,34.9,30,cm,,\n,M,calf_widest,35,39.9,cm,,\n" \
            ",M,calf_widest,35,39.9,cm,,\n,L,calf_widest,forty,44.9,cm,,\n" \
            ",XL,calf_widest,45,49,cm,upside,\n"
        ).faults
      expect(faults).to match [
              /line 2: .*min 34.9 cm is above max 30 cm. Swap them/,
              /line 4: .*there twice \(line 3\)/,
              /line 5: min: .*can not be read/,
              /line 6: posture “upside” is not known/
            ]
    end

    {
      "an empty file" => ["", /line 1: is missing/],
      "a header alone" => ["part,size,site,min,max,unit,posture,tension\n", /no rows/],
      "a missing column" => ["part,size,site,min,max,unit,posture\n", /lacks the columns tension/],
      "an unknown column" => [
        "part,size,site,min,max,unit,posture,tension,colour\n",
        /unknown columns: "colour"/
      ],
      "another encoding" => [
        "part,size,site,min,max,unit,posture,tension\n,S,caf\xE9,1,2,cm,,\n".b,
        /line 2: is not UTF-8/
      ],
      "UTF-16" => ["part,size,site\n".encode("UTF-16").b, /is UTF-16 text. Save the file again/],
      "an open quotation mark" => [
        "part,size,site,min,max,unit,posture,tension\n,\"S,calf,1,2,cm,,\n",
        /not well-formed CSV/
      ],
      "a field too many" => [
        "part,size,site,min,max,unit,posture,tension\n,S,calf,1,2,cm,,,\n",
        /has 9 fields/
      ],
      "no size" => [
        "part,size,site,min,max,unit,posture,tension\n,,calf,1,2,cm,,\n",
        /has no size/
      ],
      "no site" => ["part,size,site,min,max,unit,posture,tension\n,S,,1,2,cm,,\n", /has no site/],
      "a unit that is none" => [
        "part,size,site,min,max,unit,posture,tension\n,S,calf,1,2,span,,\n",
        /no unit known/
      ],
      "two readings in one" => [
        "part,size,site,min,max,unit,posture,tension\n,S,calf,16 to 17,18,in,,\n",
        /two readings/
      ],
      "a null byte" => [
        "part,size,site,min,max,unit,posture,tension\n,S,calf,1\0,2,cm,,\n",
        /null byte/
      ],
      "a body that nobody has" => [
        "part,size,site,min,max,unit,posture,tension\n,S,calf_widest,30,35,in,,\n",
        /nobody measures/
      ],
      "an unknown tension" => [
        "part,size,site,min,max,unit,posture,tension\n,S,calf_widest,30,35,cm,,tight\n",
        /tension “tight” is not known/
      ]
    }.each do |what, (text, message)|
      it "refuses #{what}" do
        found = scan(text)
        expect([found.usable?, found.faults.join]).to match [false, message]
      end
    end
  end

  it "does not look over what is no size chart" do
    text = head + (1..2001).map { |i| ",S#{i},calf_widest,#{i},#{i}.5,mm,,\n" }.join
    expect(scan(text).faults).to match [/line 2002: is more than a chart holds/]
  end

  describe Handrail::Exchange::DataPackage do
    let(:rows) { Handrail::Exchange::ChartFile.rows(file(good)) }

    def descriptor(**more)
      described_class.descriptor(
        name: "day stocking",
        maker: "Seacombe",
        family: "graduated_stocking",
        dated: Date.new(2026, 3, 1),
        tie_rule: "nearest",
        **more
      )
    end

    def back(path)
      found = Handrail::Exchange::PackageIn.read(path)
      [Handrail::Exchange::ChartFile.scan_rows(found.listed, name: "p").rows, found.about]
    end

    it "comes back as it was written, as a zip and as one descriptor with its rows" do
      zip = file(described_class.zip(descriptor, rows), "p.zip")
      json = file(JSON.generate(descriptor(rows: rows)), "datapackage.json")
      [zip, json].each do |path|
        expect(back(path)).to match [
                rows,
                { "family" => "graduated_stocking", "tie_rule" => "nearest" }
              ]
      end
    end

    it "holds to the schema in the repository" do
      schema = JSONSchemer.schema(JSON.parse(File.read(described_class::SCHEMA)))
      expect(schema.validate(descriptor(rows: rows)).to_a).to be_empty
      expect(schema.valid?(descriptor.merge("profile" => "data-package"))).to be false
    end
  end

  it "carries the edges of a package as numbers too, and reads it back with and without them" do
    package = Handrail::Exchange::DataPackage
    rows = [
      Handrail::Sizing::Chart::Row[
        part: "",
        size: "S",
        site: "calf_widest",
        min: 355.6r,
        max: 368.3r,
        unit: "in",
        tension: "snug"
      ]
    ]
    about = {
      name: "frame",
      maker: "Specwright",
      family: "knee_frame",
      dated: Date.new(2026, 1, 1),
      tie_rule: "larger"
    }
    descriptor = package.descriptor(**about, rows: rows)
    expect(descriptor.dig("resources", 0, "data", 0).slice("min", "max", "min_mm", "max_mm")).to eq(
      "min" => "14",
      "max" => "14 1/2",
      "min_mm" => 355.6,
      "max_mm" => 368.3
    )
    path = File.join(Dir.tmpdir, "package-#{Process.pid}.zip")
    File.binwrite(path, package.zip(package.descriptor(**about), rows))
    inside = Zip::File.open(path) { |zip| zip.read("chart.csv") }
    expect(
      CSV.parse(inside, headers: true).first.to_h.slice("min_mm", "max_mm").values.map(&:to_f)
    ).to eq [355.6, 368.3]
    listed = Handrail::Exchange::PackageIn.read(path).listed
    rows = Handrail::Exchange::ChartFile.scan_rows(listed, name: "p").rows
    band = Handrail::Sizing::Chart.build(rows).parts.first.sizes.first.bands.first
    expect([band.min, band.max]).to eq [355.6r, 368.3r]
  ensure
    FileUtils.rm_f(path) if path
  end
end

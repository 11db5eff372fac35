# frozen_string_literal: true

require "spec_helper"
require "tmpdir"
require "zip"

# Data packages as other programs make them (Frictionless Data Package, versions 1.0 and 2.0; shapes from memory of the
# specification): each is read alike, or refused with its mend; none is read as something else.
RSpec.describe Handrail::Exchange::PackageIn do
  header = "part,size,site,min,max,unit,posture,tension\n"
  lines = ",S,calf_widest,34,36.5,cm,standing,snug\n,M,calf_widest,36.6,40,cm,standing,snug\n"
  csv = header + lines
  fields = header.chomp.split(",").map { |name| { "name" => name, "type" => "string" } }

  right = [
    {
      "size" => "S",
      "site" => "calf_widest",
      "min" => 340,
      "max" => 365,
      "posture" => "standing",
      "tension" => "snug"
    },
    {
      "size" => "M",
      "site" => "calf_widest",
      "min" => 366,
      "max" => 400,
      "posture" => "standing",
      "tension" => "snug"
    }
  ]
  plain = right.map { |row| row.except("posture", "tension") }

  # a package's descriptor; resource - what its one table has beside
  package = ->(resource = {}, **more) do
    table = { "name" => "chart", "path" => "chart.csv", "schema" => { "fields" => fields } }.merge(
      resource
    ).compact
    { "profile" => "tabular-data-package", "resources" => [table], **more.transform_keys(&:to_s) }
  end
  zipped = ->(descriptor, files = { "chart.csv" => csv }, at: "") do
    text = descriptor.is_a?(String) ? descriptor : JSON.generate(descriptor)
    Zip::OutputStream
      .write_buffer do |zip|
        { "datapackage.json" => text, **files }.each do |name, bytes|
          zip.put_next_entry(at + name) && zip.write(bytes)
        end
      end
      .string
  end
  inline = ->(data, **more) do
    JSON.generate(package.call({ "path" => nil, "data" => data, **more.transform_keys(&:to_s) }))
  end
  rows = CSV.parse(csv, headers: true).map(&:to_h)

  define_method(:read) do |bytes|
    path = File.join(Dir.mktmpdir, "p.#{bytes.b.start_with?("PK") ? "zip" : "json"}")
    File.binwrite(path, bytes)
    found = described_class.read(path, name: "p")
    meant =
      Handrail::Exchange::Interpretation.new(
        found.listed,
        chosen: found.marks ? { "figures" => found.marks.code } : {},
        **Handrail::Exchange::ChartFile::MEANT
      )
    scan = Handrail::Exchange::ChartFile.scan_rows(meant.rows, name: "p")
    raise Handrail::Exchange::DataPackage::Faulty, scan.faults.first if scan.faults.any?

    scan.rows.map do |row|
      row
        .to_h
        .compact
        .transform_keys(&:to_s)
        .slice("size", "site", "min", "max", "posture", "tension")
    end
  end

  sha = Digest::SHA256.hexdigest(csv)
  {
    "version 1, a zip file" => zipped[package.call],
    "version 2, by $schema and type" =>
      zipped[
        package.call(
          { "type" => "table" },
          "$schema": "https://datapackage.org/profiles/2.0/datapackage.json",
          profile: nil
        ).compact
      ],
    "no profile at all" => zipped[package.call.except("profile")],
    "in a folder of the zip file" => zipped[package.call, at: "chart-2026/"],
    "a path with a dot before it" => zipped[package.call({ "path" => "./chart.csv" })],
    "a path in a list of one" => zipped[package.call({ "path" => ["chart.csv"] })],
    "a folder below it" =>
      zipped[package.call({ "path" => "data/chart.csv" }), { "data/chart.csv" => csv }],
    "a second table beside it" =>
      zipped[
        package.call.tap do |one|
          one["resources"] << { "name" => "prices", "path" => "prices.csv" }
        end,
        { "chart.csv" => csv, "prices.csv" => "size,price\nS,1\n" }
      ],
    "the table second" =>
      zipped[
        package.call.tap { |one| one["resources"].unshift({ "name" => "n", "path" => "n.csv" }) },
        { "chart.csv" => csv, "n.csv" => "a,b\n1,2\n" }
      ],
    "a mark of the byte order in the descriptor" => zipped["\uFEFF#{JSON.generate(package.call)}"],
    "a mark of the byte order in the table" =>
      zipped[package.call, { "chart.csv" => "\uFEFF#{csv}" }],
    "lines ended as on Windows" => zipped[package.call, { "chart.csv" => csv.gsub("\n", "\r\n") }],
    "semicolons by its dialect" =>
      zipped[
        package.call({ "dialect" => { "delimiter" => ";" } }),
        { "chart.csv" => csv.tr(",", ";") }
      ],
    "semicolons that it does not name" => zipped[package.call, { "chart.csv" => csv.tr(",", ";") }],
    "bars by its dialect" =>
      zipped[
        package.call({ "dialect" => { "delimiter" => "|" } }),
        { "chart.csv" => csv.tr(",", "|") }
      ],
    "comments by its dialect" =>
      zipped[
        package.call({ "dialect" => { "commentChar" => "#" } }),
        { "chart.csv" => "#{csv}# the end\n" }
      ],
    "no header by its dialect" =>
      zipped[package.call({ "dialect" => { "header" => false } }), { "chart.csv" => lines }],
    "another quotation mark by its dialect" =>
      zipped[
        package.call({ "dialect" => { "quoteChar" => "'" } }),
        { "chart.csv" => csv.gsub("calf_widest", "'calf_widest'") }
      ],
    "a decimal comma by its fields" =>
      zipped[
        package.call(
          { "schema" => { "fields" => fields.map { |one| one.merge("decimalChar" => ",") } } }
        ),
        { "chart.csv" => csv.tr(",", ";").tr(".", ",") }
      ],
    "a decimal comma by the whole column" =>
      zipped[package.call, { "chart.csv" => csv.tr(",", ";").tr(".", ",") }],
    "UTF-16 by its encoding" =>
      zipped[
        package.call({ "encoding" => "utf-16le" }),
        { "chart.csv" => csv.encode("UTF-16LE").b }
      ],
    "missing values that it names" =>
      zipped[
        package.call({ "schema" => { "fields" => fields, "missingValues" => ["", "NA"] } }),
        { "chart.csv" => csv.gsub(/^,/, "NA,") }
      ],
    "missing values with their reasons (version 2)" =>
      zipped[
        package.call(
          {
            "schema" => {
              "fields" => fields,
              "missingValues" => [{ "value" => "-", "label" => "none" }]
            }
          }
        ),
        { "chart.csv" => csv.gsub(/^,/, "-,") }
      ],
    "a schema in a file of its own" =>
      zipped[
        package.call({ "schema" => "schema.json" }),
        { "chart.csv" => csv, "schema.json" => JSON.generate("fields" => fields) }
      ],
    "its hash, SHA-256" => zipped[package.call({ "hash" => "sha256:#{sha}" })],
    "its hash, MD5 alone" => zipped[package.call({ "hash" => Digest::MD5.hexdigest(csv) })],
    "fields that no chart has" =>
      zipped[
        package.call,
        { "chart.csv" => csv.gsub(/(?<=.)$/, ",x").sub("tension,x", "tension,colour") }
      ],
    "German names of fields" =>
      zipped[
        package.call,
        { "chart.csv" => csv.sub(header, "Teil,Größe,Messstelle,von,bis,Einheit,Haltung,Zug\n") }
      ],
    "rows in the descriptor" => inline[rows],
    "rows as lists" => inline[CSV.parse(csv)],
    "rows as a text" => inline[csv],
    "figures as numbers" =>
      inline[rows.map { |row| row.merge("min" => row["min"].to_f, "max" => row["max"].to_f) }],
    "edges in mm alone" =>
      inline[
        rows.map do |row|
          row.except("min", "max", "unit").merge(
            "min_mm" => row["min"].to_f * 10,
            "max_mm" => row["max"].to_f * 10
          )
        end
      ],
    "edges in mm beside" =>
      inline[
        rows.map do |row|
          row.merge("min_mm" => row["min"].to_f * 10, "max_mm" => row["max"].to_f * 10)
        end
      ],
    "edges in mm, rounded" =>
      inline[rows.map { |row| row.merge("min_mm" => (row["min"].to_f * 10) + 0.004) }]
  }.each { |what, bytes| it("reads a package with #{what}") { expect(read(bytes)).to eq right } }

  it "reads one with fewer fields, as what they leave open" do
    few =
      CSV.generate do |out|
        [
          %w[size site min max unit],
          *rows.map { |row| row.values_at("size", "site", "min", "max", "unit") }
        ].each { |row| out << row }
      end
    expect(read(zipped[package.call({ "schema" => nil }), { "chart.csv" => few }])).to eq plain
  end

  {
    "no zip file" => ["PK\x03\x04rubbish", /no zip file/],
    "no JSON" => ["{", /datapackage.json is not well-formed JSON/],
    "a list" => ["[]", /is no object/],
    "no resources" => ['{"profile":"data-package"}', /has no resources/],
    "no table of a chart" => [
      zipped[package.call, { "chart.csv" => "a,b\n1,2\n" }],
      /no table in it has the fields of a chart: size/
    ],
    "no unit" => [
      zipped[package.call, { "chart.csv" => "size,site,min,max\nS,calf_widest,34,36\n" }],
      /fields of a chart/
    ],
    "two tables of charts" => [
      zipped[
        package.call.tap { |one| one["resources"] << one["resources"].first.merge("name" => "old") }
      ],
      /2 tables in it are charts: chart, old/
    ],
    "a table without a row" => [zipped[package.call, { "chart.csv" => header }], /has no row/],
    "a zip file without a descriptor" => [
      zipped[package.call].then { |bytes| bytes.gsub("datapackage.json", "dataPackage.json") },
      /no datapackage.json/
    ],
    "a file that is not in it" => [
      zipped[package.call, { "other.csv" => csv }],
      /names chart.csv, which is not in it/
    ],
    "a path out of it" => [
      zipped[package.call({ "path" => "../../etc/passwd" })],
      /lies outside the package/
    ],
    "a path from the root" => [
      zipped[package.call({ "path" => "/etc/passwd" })],
      /lies outside the package/
    ],
    "an address" => [
      zipped[package.call({ "path" => "https://x.example/chart.csv" })],
      /lies outside the package/
    ],
    "rows elsewhere" => [JSON.generate(package.call), /Send the whole package as one zip file/],
    "several files of one table" => [
      zipped[package.call({ "path" => %w[a.csv b.csv] })],
      /in several files/
    ],
    "another hash" => [
      zipped[package.call({ "hash" => "sha256:#{"0" * 64}" })],
      /its hash is another/
    ],
    "a quotation mark that is not closed" => [
      zipped[package.call, { "chart.csv" => csv.sub("calf", "\"calf") }],
      /not well-formed CSV/
    ],
    "quotes by a sign before them" => [
      zipped[package.call({ "dialect" => { "doubleQuote" => false, "escapeChar" => "\\" } })],
      /Double it instead/
    ],
    "bytes of another alphabet" => [
      zipped[package.call, { "chart.csv" => csv.sub("snug", "\x81").b }],
      /can not be read as UTF-8/
    ],
    "edges that contradict one another" => [
      inline[rows.map { |row| row.merge("min_mm" => 300) }],
      /row 1: min is 34 cm, and min_mm says 300 mm/
    ],
    "signs that are one" => [
      zipped[
        package.call(
          {
            "schema" => {
              "fields" => [{ "name" => "min", "decimalChar" => ",", "groupChar" => "," }]
            }
          }
        )
      ],
      /one sign for decimals and for thousands/
    ],
    "a row with another number of fields" => [
      zipped[package.call, { "chart.csv" => "#{csv},L,x\n" }],
      /row 4 of “chart” has 3 fields, its header 8/
    ],
    "a rule that is none" => [
      zipped[package.call({}, size_chart: { "tie_rule" => "best" })],
      /its rule between sizes is “best”/
    ],
    "min above max" => [
      zipped[package.call, { "chart.csv" => csv.sub("34,36.5", "36.5,34") }],
      /p line 2: .*above max/
    ],
    "a unit in the cell against its column's" => [
      zipped[package.call, { "chart.csv" => csv.sub(",34,", ",14 in,") }],
      /Which is it/
    ],
    "rows that are neither" => [inline[[1, 2]], /neither objects nor lists/]
  }.each do |what, (bytes, words)|
    it "refuses a package with #{what}, with its mend" do
      expect { read(bytes) }.to raise_error(Handrail::Exchange::DataPackage::Faulty, words)
    end
  end

  it "reads the example of its page" do
    page = File.read(File.join(Handrail::ROOT, "docs", "formats", "packages.md"))
    path = File.join(Dir.mktmpdir, "p.json")
    File.write(path, page[/```json\n(.*?)```/m, 1])
    found = described_class.read(path)
    expect(found.about).to eq("family" => "knee_sleeve", "tie_rule" => "smaller")
    expect(
      found.listed.map { |row, form| [row, *form.values_at("size", "min", "max", "unit")] }
    ).to eq [[1, "S", "34", "36.5", "cm"], [2, "M", "36.6", "40", "cm"]]
  end

  it "notices a figure that was turned over within the zip file, though it can be unpacked" do
    stored =
      Zip::OutputStream
        .write_buffer do |zip|
          {
            "datapackage.json" => JSON.generate(package.call),
            "chart.csv" => csv
          }.each do |name, bytes|
            zip.put_next_entry(name, nil, nil, Zip::Entry::STORED) && zip.write(bytes)
          end
        end
        .string
    expect(read(stored)).to eq right
    expect { read(stored.sub("36.5", "38.5")) }.to raise_error(
      Handrail::Exchange::DataPackage::Faulty,
      /no zip file that can be/
    )
  end

  it "never breaks on what is cut, turned or filled with chance" do
    seed = Random.new(20_261_130)
    whole = zipped[package.call]
    200.times do
      bytes = whole.dup
      rand = seed.rand(4)
      bytes = bytes[0, seed.rand(bytes.size)] if rand.zero?
      if bytes.size.positive? && rand.positive?
        seed.rand(1..8).times { bytes.setbyte(seed.rand(bytes.size), seed.rand(256)) }
      end
      expect { read(bytes) }.not_to raise_error
    rescue RSpec::Expectations::ExpectationNotMetError => e
      raise unless e.message.include?("DataPackage::Faulty")
    end
  end
end

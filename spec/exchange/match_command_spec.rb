# frozen_string_literal: true

require "stringio"
require "tmpdir"

RSpec.describe Handrail::Exchange::MatchCommand do
  around { |example| Dir.mktmpdir { |folder| Dir.chdir(folder) { example.run } } }

  let(:chart) do
    "part,size,site,min,max,unit,posture,tension\n,S,calf,32,35.5,cm,,snug\n" \
      ",M,calf,35.6,37.5,cm,,snug\n,L,calf,37.6,40.5,cm,,snug\n"
  end
  let(:readings) do
    "person,site,posture,tension,value,unit\nana,calf,sitting,snug,37.2,cm\nbo,calf,sitting,snug,\"14 " \
      "3/8\",in\nana,calf,sitting,snug,\"37,0\",cm\n"
  end

  def run(*options, chart: self.chart, readings: self.readings)
    File.binwrite("chart.csv", chart)
    File.binwrite("readings.csv", readings)
    out = StringIO.new
    err = StringIO.new
    status =
      described_class.run(
        ["--chart", "chart.csv", "--readings", "readings.csv", *options],
        out: out,
        err: err
      )
    [status, out.string, err.string]
  end

  it "prints one row a person in order of first appearance" do
    status, out, err = run
    rows = CSV.parse(out, headers: true)
    expect([status, err]).to eq [0, ""]
    expect(rows.headers).to eq %w[person verdict size margin_mm probability read_again reason]
    # ana: mean 371, sd 371 * 0.01 / sqrt 2 = 2.6234; Phi(1.5247) - Phi(-5.7178) = 0.936
    expect(rows[0].to_h).to include(
      "person" => "ana",
      "verdict" => "fits",
      "size" => "M",
      "margin_mm" => "4.0",
      "probability" => "0.936",
      "read_again" => "calf"
    )
    expect(rows[1].to_h).to include("person" => "bo", "size" => "M", "margin_mm" => "9.1")
  end

  it "prints the same as JSON" do
    _, out, = run("--format", "json")
    expect(JSON.parse(out)).to match [
            include("person" => "ana", "size" => "M", "margin_mm" => 4.0, "probability" => 0.936),
            include("person" => "bo")
          ]
  end

  it "reads the rows of a person alike, whether they stand together or not" do
    together = readings.lines.values_at(0, 1, 3, 2).join
    expect(run(readings: together)).to eq run
  end

  it "asks about the unit of a known site" do
    known = [chart, readings].map { |text| text.gsub("calf", CoreHelpers::CALF) }
    _, out, = run(chart: known[0], readings: known[1].sub("37.2", "14").sub("\"37,0\"", "14"))
    expect(CSV.parse(out, headers: true)[0]["reason"]).to start_with(
      "14 cm is not what we " \
        "would expect"
    ).and include("Was it 14 in?")
  end

  {
    "an unknown column" => [
      :chart,
      ->(t) { t.sub("tension", "colour") },
      /chart\.csv line 1: .*colour.*columns are/
    ],
    "a missing column" => [
      :readings,
      ->(t) { t.gsub(/^person,/, "") },
      /readings\.csv line 1: lacks the columns person/
    ],
    "an unreadable value" => [
      :readings,
      ->(t) { t.sub("37.2", "wide") },
      /readings\.csv line 2: value: .*can not be read.*41\.5 cm/
    ],
    "an unreadable band" => [
      :chart,
      ->(t) { t.sub("35.6", "") },
      /chart\.csv line 3: min: Nothing was typed/
    ],
    "the same size and site twice" => [
      :chart,
      ->(t) { t.sub(",L,", ",M,") },
      /chart\.csv line 4: size M already has a band for calf \(line 3\)/
    ],
    "min above max" => [
      :chart,
      ->(t) { t.sub("37.6,40.5", "40.5,37.6") },
      /chart\.csv line 4: .*min 40.5 cm is above max 37.6 cm\. Swap/
    ],
    "an empty file" => [:chart, ->(_) { "" }, /chart\.csv line 1: .*empty/],
    "a header alone" => [:readings, ->(t) { t.lines.first }, /readings\.csv line 2: .*no rows/],
    "a wrong encoding" => [
      :readings,
      ->(t) { t.sub("bo", "b\xF6").b },
      /readings\.csv line 3: is not UTF-8/
    ],
    "an open quotation mark" => [
      :readings,
      ->(t) { "#{t}cy,\"calf" },
      /readings\.csv line 5: is not well-formed CSV/
    ],
    "too many fields" => [
      :readings,
      ->(t) { t.sub("37.2,cm", "37,2,cm") },
      /readings\.csv line 2: has 7 fields/
    ]
  }.each do |what, (file, change, message)|
    it "stops at #{what}, with file, line and mend, and prints nothing" do
      status, out, err = run(file => change.call(public_send(file)))
      expect([status, out]).to eq [2, ""]
      expect(err).to match(message)
    end
  end

  it "stops at an option it does not know, a missing file and a primary site the chart lacks" do
    expect(run("--tie", "random")).to match [2, "", /--tie random.*Call it so/]
    expect(run("--tie", "primary", "--primary", "hip")).to match [
            2,
            "",
            /no site “hip”. It has calf/
          ]
    err = StringIO.new
    expect(
      described_class.run(%w[--chart none.csv --readings none.csv], out: StringIO.new, err: err)
    ).to eq 2
    expect(err.string).to include("none.csv: there is no such file")
  end

  it "takes files with a byte order mark and Windows line ends" do
    expect(run(chart: "\uFEFF#{chart.gsub("\n", "\r\n")}")).to eq run
  end

  it "gathers a person whose rows stand apart, and keeps the order of first appearance" do
    apart =
      "person,site,posture,tension,value,unit\nana,calf,,snug,37.2,cm\n" \
        "bo,calf,,snug,33,cm\nana,calf,,snug,37.0,cm\ncy,calf,,snug,39,cm\n" \
        "bo,calf,,snug,33.2,cm\n"
    together =
      "person,site,posture,tension,value,unit\nana,calf,,snug,37.2,cm\n" \
        "ana,calf,,snug,37.0,cm\nbo,calf,,snug,33,cm\nbo,calf,,snug,33.2,cm\n" \
        "cy,calf,,snug,39,cm\n"
    %w[csv json].each do |format|
      expect(run("--format", format, readings: apart)).to eq run(
           "--format",
           format,
           readings: together
         )
    end
    expect(CSV.parse(run(readings: apart)[1], headers: true).map { |row| row["person"] }).to eq %w[
         ana
         bo
         cy
       ]
  end

  it "prints nothing of a file whose last row is at fault" do
    many =
      "person,site,posture,tension,value,unit\n#{
        (1..300).map { |i| "p#{i},calf,,snug,#{33 + (i % 7)},cm\n" }.join
      }p301,calf,,snug,wide,cm\n"
    status, out, err = run(readings: many)
    expect([status, out, err]).to match [2, "", /readings.csv line 302: value/]
  end

  it "answers the same readings the same, remembered or not" do
    people = (1..40).map { |i| ["p#{i}", (320 + (i * 2)) / 10.0] }
    rows = people.flat_map { |name, value| [[name, value], [name, value]] }
    text =
      "person,site,posture,tension,value,unit\n#{
        rows.map { |name, value| "#{name},calf,,snug,#{value},cm\n" }.join
      }"
    stub_const("#{described_class}::MEMORY", 1)
    fresh = run(readings: text)
    stub_const("#{described_class}::MEMORY", 20_000)
    expect(
      run(readings: text + text.lines.drop(1).map { |line| line.sub("p", "q") }.join)[
        1
      ].lines.first(41)
    ).to eq fresh[1].lines
  end

  it "tells two people apart who typed the same length in other words" do
    words = "person,site,posture,tension,value,unit\nana,calf,,snug,36.5,cm\nbo,calf,,snug,365,mm\n"
    rows = CSV.parse(run(readings: words)[1], headers: true)
    expect(rows.map { |row| row.to_h.except("person") }.uniq.size).to eq 1
  end
end

# frozen_string_literal: true

require "spec_helper"
require "csv"
require "json"
require "stringio"
require "tempfile"

# The contracts of `bin/handrail pressures`, `volume` and `trend`: columns, order, figures and what
# is refused.
RSpec.describe "The commands that read a file and print rows" do
  def call(command, option, text, *more)
    Tempfile.create(%w[input .csv]) do |file|
      file.write(text)
      file.flush
      out = StringIO.new
      err = StringIO.new
      status =
        Handrail::Exchange.const_get(command).run([option, file.path, *more], out: out, err: err)
      [status, out.string, err.string]
    end
  end

  def rows(...) = CSV.parse(call(...)[1], headers: true).map { |row| row.fields.join(",") }

  describe "pressures" do
    def straps(text, *more) =
      rows(:PressuresCommand, "--straps", "person,strap,pressure\n#{text}", *more)

    it "prints a row a strap in order, persons by first appearance" do
      expect(straps("B,1,60\nA,2,49\nA,1,47\nA,3,30\n")).to eq %w[
           B,1,60.0,47.5,47.5,ease
           A,1,47.0,47.5,,leave
           A,2,49.0,38.8,38.8,ease
           A,3,30.0,30.0,,leave
         ]
    end

    it "takes other targets and another band" do
      expect(straps("A,1,40\nA,2,24\n", "--bottom", "40", "--top", "20", "--within", "4")).to eq %w[
           A,1,40.0,40.0,,leave
           A,2,24.0,20.0,,leave
         ]
    end

    it "refuses a strap that comes twice, and a bottom that is no number" do
      expect(
        call(:PressuresCommand, "--straps", "person,strap,pressure\nA,1,40\nA,1,41\n")
      ).to match [2, "", /line 3: gives strap 1 of “A” a second time/]
      expect(
        call(:PressuresCommand, "--straps", "person,strap,pressure\nA,1,40\n", "--bottom", "tight")
      ).to match [2, "", /--bottom/]
      expect(call(:PressuresCommand, "--straps", "person,strap,pressure\nA,1,-4\n")).to match [
              2,
              "",
              /line 2: pressure/
            ]
    end
  end

  it "says on standard error why an excess is empty, and nothing else there" do
    same =
      "person,date,side,level,girth,unit\nP,2026-01-02,left,0,24,cm\nP,2026-01-02,left,40,26,cm\n"
    right = ->(level) { "P,2026-01-02,right,0,24,cm\nP,2026-01-02,right,#{level},26,cm\n" }
    expect(call(:VolumeCommand, "--girths", same + right[40])).to match [
            0,
            /P,2026-01-02,left,2,1990.5,1990.5/,
            ""
          ]
    status, out, err = call(:VolumeCommand, "--girths", same + right[36])
    expect([status, out.lines.size]).to eq [0, 3]
    expect(err.lines.map(&:chomp)).to include(
      "P, 2026-01-02: left and the other side were read at other levels; no excess."
    )
  end

  it "says on standard error where girths at one level were taken as one" do
    rows = %w[0,24 0,25 40,26].map { |row| "P,2026-01-02,left,#{row},cm\n" }
    girths = "person,date,side,level,girth,unit\n#{rows.join}"
    expect(call(:VolumeCommand, "--girths", girths)).to match [
            0,
            /P,2026-01-02,left,2/,
            "P, 2026-01-02, left: more than one girth at 0 mm; taken as one reading, repeated.\n"
          ]
  end

  describe "files that another program wrote" do
    plain = {
      PressuresCommand: ["--straps", "person,strap,pressure\nA,1,1047.5\nA,2,38.5\n"],
      VolumeCommand: [
        "--girths",
        "person,date,side,level,girth,unit\nA,2026-01-02,left,0,1221.5,mm\nA,2026-01-02,left,40,250.5,mm\n"
      ],
      TrendCommand: [
        "--series",
        "person,site,date,value,unit\n#{(1..4).map { |i| "A,calf,2026-01-0#{i},1365.5,mm\n" }.join}"
      ],
      ConsistencyCommand: [
        "--readings",
        "person,site,posture,tension,value,unit\nA,calf_widest,,,365.5,mm\nA,foot_length,,,1250.5,mm\n"
      ]
    }

    # decimals by a comma, thousands by a point, fields by a semicolon, our names in another language
    def foreign(text)
      figures =
        text
          .tr(",", ";")
          .gsub(/\b(\d(?=\d{3}\.))?(\d+)\.(\d)\b/) do |one|
            one.tr(".", ",").sub(/\A\d(?=\d{3})/, '\0.')
          end
      figures.sub("site;", "Messstelle;")
    end

    plain.each do |command, (option, text)|
      it "are read by what is said of them, and no figure in another writing (#{command})" do
        other = foreign(text)
        expect(other).to include(",5")
        expect(call(command, option, other, "--decimal", ",", "--thousands", ".")).to eq call(
             command,
             option,
             text
           )
        status, _, words =
          call(command, option, text.sub(".5", ".55").tr(",", ";"), "--decimal", ",")
        expect([status, words]).to match [
                2,
                /line 2: “[\d.]+55?” is not written with a comma before decimals/
              ]
      end
    end

    it "asks where a cell has a unit of its own, and its column another one" do
      girths =
        "person,date,side,level,girth,unit\nA,2026-01-02,left,0,24 in,cm\nA,2026-01-02,left,40,26,cm\n"
      expect(call(:VolumeCommand, "--girths", girths, "--decimal", ".")).to match [
              2,
              "",
              /line 2: girth: “24 in” says in, and its column for the unit cm\. Which is it\?/
            ]
      expect(call(:VolumeCommand, "--girths", girths).first).to eq 0
    end

    it "reads days in the one order that the whole column allows, and none that can be read two ways" do
      series = ->(*days) do
        "person,site,date,value,unit\n#{days.map { |day| "A,calf,#{day},36.5,cm\n" }.join}"
      end
      ours = call(:TrendCommand, "--series", series["2026-04-03", "2026-04-13", "2026-05-04"])
      other = series["03/04/2026", "13/04/2026", "04/05/2026"]
      expect(call(:TrendCommand, "--series", other, "--decimal", ".")).to eq ours
      expect(
        call(:TrendCommand, "--series", series["03/04/2026", "04/05/2026"], "--decimal", ".")
      ).to match [2, "", /line 2: “03.04.2026” can be read two ways/]
    end

    it "are refused where one sign should be both, and the commands that read no figures take no such option" do
      option, text = plain.fetch(:TrendCommand)
      same = call(:TrendCommand, option, text, "--decimal", ",", "--thousands", ",")
      expect(same).to match [2, "", /same sign/]
      expect(call(:ReviewCommand, "--file", "x", "--decimal", ",")).to match [
              2,
              "",
              /invalid option: --decimal/
            ]
    end
  end

  describe "volume" do
    head = "person,date,side,level,girth,unit\n"

    def volumes(text) =
      rows(:VolumeCommand, "--girths", "person,date,side,level,girth,unit\n#{text}")

    it "prints persons by first appearance, then date, then side, with excess, severity and change" do
      cone = ->(side, date, a, b) { "P,#{date},#{side},0,#{a},cm\nP,#{date},#{side},10,#{b},cm\n" }
      found =
        volumes(
          "Z,2026-03-01,left,0,10,cm\nZ,2026-03-01,left,4,10,cm\n" \
            "#{cone["right", "2026-02-01", 20, 20]}#{cone["left", "2026-01-01", 22, 22]}" \
            "#{cone["right", "2026-01-01", 20, 20]}"
        )
      # a cylinder of girth C and height h holds C^2 h / 4 pi
      expect(found).to eq %w[
           Z,2026-03-01,left,2,31.8,,,,,0.0,0.0
           P,2026-01-01,left,2,385.2,318.3,66.8,21.0,moderate,0.0,0.0
           P,2026-01-01,right,2,318.3,385.2,-66.8,-17.4,,0.0,0.0
           P,2026-02-01,right,2,318.3,,,,,0.0,0.0
         ]
    end

    it "folds repeats, and holds only the same levels against each other" do
      found =
        volumes(
          "P,2026-01-01,left,0,20,cm\nP,2026-01-01,left,0,22,cm\nP,2026-01-01,left,100,210,mm\n"
        )
      expect(found.size).to eq 1
      found =
        volumes(
          "P,2026-01-01,left,0,20,cm\nP,2026-01-01,left,10,20,cm\n" \
            "P,2026-02-01,left,0,20,cm\nP,2026-02-01,left,11,20,cm\n"
        )
      expect(found.last).to end_with(",,,,,,")
    end

    it "refuses fewer than two levels by the person's first row, and what is no date, side or girth" do
      expect(
        call(
          :VolumeCommand,
          "--girths",
          "#{head}Q,2026-01-01,left,0,20,cm\nQ,2026-01-01,left,4,20,cm\n" \
            "P,2026-01-01,left,0,20,cm\nP,2026-01-01,left,0,20.2,cm\n"
        )
      ).to match [2, "", /line 4.*one level only/]
      {
        "P,1.1.2026,left,0,20,cm" => /date/,
        "P,2026-02-30,left,0,20,cm" => /date/,
        "P,2026-01-01,both,0,20,cm" => /side/,
        "P,2026-01-01,left,0,0,cm" => /girth/,
        "P,2026-01-01,left,low,20,cm" => /level/,
        ",2026-01-01,left,0,20,cm" => /person/
      }.each do |line, words|
        expect(call(:VolumeCommand, "--girths", "#{head}#{line}\n")).to match [
                2,
                "",
                /line 2.*#{words}/
              ]
      end
    end
  end

  describe "trend" do
    head = "person,site,date,value,unit\n"
    series =
      "A,calf,2026-01-15,36.8,cm\nA,calf,2026-01-01,365,mm\nA,ankle,2026-02-12,22,cm\n" \
        "A,calf,2026-01-29,37.0,cm\nA,calf,2026-02-12,37.4,cm\n"

    it "prints a row a person and site by first appearance, in the contract's columns" do
      found = rows(:TrendCommand, "--series", head + series, "--upper", "38", "--unit", "cm")
      expect(found).to eq <<~CSV.split
        A,calf,4,1.45,0.88,2.02,rising,upper,2026-03-15,2026-02-28,2026-04-19
        A,ankle,1,,,,too_few,,,,
      CSV
      expect(
        rows(:TrendCommand, "--series", head + series, "--lower", "35 cm").first
      ).to eq "A,calf,4,1.45,0.88,2.02,rising,,,,"
    end

    it "prints JSON with numbers as numbers" do
      found = JSON.parse(call(:TrendCommand, "--series", head + series, "--format", "json")[1])
      expect(found.first).to include(
        "n" => 4,
        "slope_mm_per_week" => 1.45,
        "edge" => "",
        "verdict" => "rising"
      )
      expect(found.last).to include("slope_mm_per_week" => nil, "verdict" => "too_few")
    end

    it "refuses an edge or a row that can not be read" do
      expect(call(:TrendCommand, "--series", head + series, "--upper", "wide")).to match [
              2,
              "",
              /--upper/
            ]
      expect(call(:TrendCommand, "--series", "#{head}A,calf,2026-1-1,36,cm\n")).to match [
              2,
              "",
              /line 2.*2026-11-25/
            ]
      expect(call(:TrendCommand, "--series", "#{head}A,,2026-01-01,36,cm\n")).to match [
              2,
              "",
              /line 2.*site/
            ]
    end
  end
end

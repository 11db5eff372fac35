# frozen_string_literal: true

require "csv"
require "tmpdir"

# Waist and hip girths of 71 women: data set bodyfat of the R package TH.data (GPL-3), published by
# Garcia AL et al., Obesity Research 13 (2005) 626-634. The summary that R prints of it is in the
# first example.
RSpec.describe "The matcher on real girths" do
  let(:people) do
    CSV.read(File.join(Handrail::ROOT, "spec", "fixtures", "women-waist-hip.csv"), headers: true)
  end
  let(:waists) { people.map { |row| Rational(row["waist_cm"]) } }

  it "has the published summary" do
    hips = people.map { |row| Rational(row["hip_cm"]) }
    summary = ->(all) do
      [
        all.min,
        Handrail::Measuring::Repeats.new(all.map { |x| mm(x * 10) }, resolution: mm(1)).mm / 10,
        (all.sum / all.size).round(2),
        all.max
      ].map(&:to_f)
    end
    expect([people.size, summary[waists], summary[hips]]).to eq [
         71,
         [65.0, 85.0, 87.38, 117.0],
         [88.0, 103.0, 105.28, 132.0]
       ]
  end

  it "counts as a plain count does, and gives each person the band that a look-up gives" do
    edges = [60, 75, 90, 105, 120]
    sizes =
      edges
        .each_cons(2)
        .with_index
        .to_h { |(a, b), i| [i.to_s, { "waist" => [a * 10, (b * 10) - 1] }] }
    run = chart(sizes)
    found =
      waists.map do |x|
        run.match([reading("#{x.to_f} cm", site: "waist")]).then { |m| [m.verdict, m.size] }
      end
    expect(found.map(&:last)).to eq(
      waists.map { |x| edges.each_cons(2).find_index { |a, b| x >= a && x < b }.to_s }
    )
    expect(found.map(&:first).uniq).to eq [:fits]
  end

  it "prints every person once through the command line" do
    Dir.mktmpdir do |folder|
      chart = File.join(folder, "chart.csv")
      readings = File.join(folder, "readings.csv")
      File.write(
        chart,
        "part,size,site,min,max,unit,posture,tension\nwaist,1,waist,60,84.9,cm,,\n" \
          "waist,2,waist,85,120,cm,,\nhip,a,hip,85,105,cm,,\nhip,b,hip,105.1,135,cm,,\n"
      )
      rows =
        people.each_with_index.flat_map do |row, i|
          [
            ["p#{i}", "waist", "", "", row["waist_cm"], "cm"],
            ["p#{i}", "hip", "", "", row["hip_cm"], "cm"]
          ]
        end
      File.write(readings, [Handrail::Exchange::ReadingsFile::COLUMNS, *rows].map(&:to_csv).join)
      out = StringIO.new
      expect(
        Handrail::Exchange::MatchCommand.run(["--chart", chart, "--readings", readings], out: out)
      ).to eq 0
      sizes = CSV.parse(out.string, headers: true).map { |row| row["size"] }
      expect(sizes).to eq(
        people.map do |row|
          "#{row["waist_cm"].to_f < 85 ? 1 : 2} #{row["hip_cm"].to_f <= 105 ? "a" : "b"}"
        end
      )
    end
  end
end

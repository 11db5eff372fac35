# frozen_string_literal: true

require "web_helper"
require "nokogiri"
require "vips"
require_relative "../support/whole_jobs"

# Both legs, and the heels before and after every change, beside what may still be given.
RSpec.describe "Lines of both sides in a row", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:visit) { sized_job("foot_insole", side: "both") }

  before { sign_in(fitter) }

  def heel(side, beside, moment)
    unless @photo
      buffer = Vips::Image.black(60, 40, bands: 3).cast(:uchar).pngsave_buffer
      photo = Handrail::Exchange::Photo.new(buffer)
      keep = Handrail::Store::Commands::KeepPhoto.new({ "what" => "heels" }, photo: photo)
      Handrail::Store::Ledger.new(visit, fitter).run(keep)
      @photo = record(visit).body.photos.last[:id].to_s
    end
    points = { "calf" => "300,100", "ankle" => "300,300", "heel" => "#{300 + beside},400" }
    run(
      visit,
      fitter,
      :PlaceLine,
      line: "heel",
      moment: moment,
      side: side,
      photo: @photo,
      points: points
    )
  end

  def row_on(stage)
    get "/visits/#{visit.id}/#{stage}"
    Nokogiri.HTML(html).at_css(".line-row")
  end

  it "is not there before a line is placed" do
    expect(row_on("line")).to be_nil
    expect(row_on("fit")).to be_nil
  end

  it "says what a heel's tilt would take, in steps of the bevel at this heel" do
    page = "/visits/#{visit.id}/line?line=heel&side=left"
    get page
    expect(text).not_to include "One step of"
    heel("left", -8.75, "before")
    get page
    width = record(visit).repeats("heel_width", "left").mm.to_f
    # 2.5 steps of 2 degrees: three are needed
    rise = ->(degrees) { format("%.1f", width * Math.tan(degrees * Math::PI / 180)) }
    expect(text).to include(
      "One step of 2° is #{rise[2]} mm at this heel of #{width.round} mm; 5.0° would take 3 (#{rise[6]} mm)."
    )
  end

  it "says each heel's degrees, before and after how much was given, and what may still be given" do
    # atan(8.75 / 100) is 5.0 degrees, atan(1.4 / 100) is 0.8
    heel("left", -8.75, "before")
    run(
      visit,
      fitter,
      :WriteSettings,
      side: "left",
      settings: {
        "found" => "4",
        "found_towards" => "medial"
      }
    )
    heel("left", -1.4, "after")
    heel("right", 1.4, "before")
    found = row_on("line").css("figcaption").map { |one| one.text.gsub(/\s+/, " ").strip }
    expect(found).to match [
            /look again 5\.0° inward\s*left, bare/i,
            /good 0\.8° inward\s*left, after 4°/i,
            /good 0\.8° (in|out)ward\s*right, bare/i
          ]
    expect(row_on("line").css(".given-steps").map { |one| one.text.gsub(/\s+/, " ").strip }).to eq [
         "Left: 4° of the 6° that may be given; room for 1 of 2° each.",
         "Right: 0° of the 6° that may be given; room for 3 of 2° each."
       ]
    run(visit, fitter, :WriteSettings, side: "left", settings: { "found" => "6" })
    # what was placed after 4 degrees stays so
    expect(row_on("line").text).to include "left, after 4°"
    expect(
      row_on("fit").text
    ).to include "Left: 6° of the 6° that may be given: no step is left, back to the prescriber."
  end

  it "puts both legs beside one another, each as it was placed last" do
    { "left" => %w[190,400 181,400], "right" => %w[170,400] }.each do |side, knees|
      knees.each do |knee|
        points = { "hip" => "180,40", "knee" => knee, "toe" => "180,640" }
        run(
          visit,
          fitter,
          :PlaceLine,
          line: "leg",
          moment: "before",
          side: side,
          known: "60 cm",
          points: points
        )
      end
    end
    pictures = row_on("fit").css("figure")
    expect(pictures.map { |one| one.at_css("strong").text.gsub(/\s+/, " ").strip }).to match [
            /\A10\.0 mm (in|out)side\z/,
            /\A1\.0 mm (in|out)side\z/
          ]
    expect(pictures.css("svg.is-leg .own-line").size).to eq 2
  end

  it "leaves no empty row where a device has the line of the leg alone" do
    knee = sized_job("knee_unloader", side: "left")
    points = { "hip" => "180,40", "knee" => "190,400", "toe" => "180,640" }
    run(
      knee,
      fitter,
      :PlaceLine,
      line: "leg",
      moment: "before",
      side: "left",
      known: "60 cm",
      points: points
    )
    get "/visits/#{knee.id}/fit"
    rows = Nokogiri.HTML(html).css(".line-row")
    expect(rows.map { |row| row.css("figure").size }).to eq [1]
  end
end

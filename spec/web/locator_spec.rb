# frozen_string_literal: true

require "web_helper"
require "open3"
require "pdf-reader"
require "stringio"
require "tmpdir"
require "vips"

# The locator sheet at its own size, and the strap map.
RSpec.describe "Sheets of the fit", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  # a cuff that is sized, with its offsets written
  def cuff(side: "right", **offsets)
    product = make_product(clinic)
    rows = [
      Handrail::Sizing::Chart::Row[
        part: "",
        size: "M",
        site: "fibular_head",
        min: 300r,
        max: 400r,
        unit: "cm",
        tension: "snug"
      ]
    ]
    product.update(family: "stimulator_cuff", options: Handrail::Store.json({}))
    Handrail::Store::ChartRevision.add(
      product,
      rows,
      dated: Date.new(2026, 2, 1),
      tie_rule: "larger"
    )
    visit =
      make_visit(
        clinic,
        fitter,
        product: product,
        side: side,
        fields: {
          "indication" => "dropped foot",
          "switch" => "wired"
        }
      )
    ask(visit, fitter)
    2.times { take(visit, fitter, "35", site: "fibular_head", side: side) }
    run(visit, fitter, :ChooseSize, size: "M")
    run(visit, fitter, :IssueDevice, serial: "S-2")
    offsets = {
      upper_across: "45 mm",
      upper_down: "12 mm",
      lower_across: "30 mm",
      lower_down: "110 mm"
    }.merge(offsets)
    run(visit, fitter, :WriteSettings, settings: offsets.transform_keys(&:to_s))
    visit
  end

  # columns and rows that are dark in a rendering of a PDF at 254 dots an inch, ten to the millimetre
  def rendered(path)
    get path
    Dir.mktmpdir do |folder|
      File.binwrite("#{folder}/sheet.pdf", last_response.body)
      Open3.capture2e("pdftoppm", "-r", "254", "-gray", "#{folder}/sheet.pdf", "#{folder}/page")
      yield Vips::Image.new_from_file(Dir["#{folder}/page*"].first, memory: true)
    end
  end

  # the longest dark run of every row, in mm
  def runs(image)
    dark = image < 120
    (0...image.height).map do |y|
      row = dark.crop(0, y, image.width, 1).to_a.first.flatten
      row
        .chunk { |value| value }
        .select { |value, _| value.positive? }
        .map { |_, part| part.size }
        .max
        .to_i / 10.0
    end
  end

  it "prints its rulers at their own length, on A4 and on Letter" do
    visit = cuff
    %w[a4 letter].each do |size|
      rendered("/visits/#{visit.id}/locator.pdf?size=#{size}") do |image|
        longest = runs(image)
        expect([size, longest.any? { |mm| mm.between?(99.7, 100.6) }]).to eq [size, true]
        expect([size, longest.any? { |mm| mm.between?(101.3, 102.1) }]).to eq [size, true]
      end
    end
  end

  it "says the poles by sign and letter, and names what is missing or touches" do
    visit = cuff
    get "/visits/#{visit.id}/locator"
    expect(html).to match(/class="locator".*>\+<.*>P</m).and match(/>−<.*>N</m)
    expect(text).to include("45 across, 12 down", "100 mm", "4 in")
    touching = cuff(lower_across: "45 mm", lower_down: "20 mm")
    get "/visits/#{touching.id}/locator"
    expect(text).to include "Two electrodes touch"
    get "/visits/#{cuff(lower_down: "").id}/locator"
    expect(text).to include "Shin: its two offsets are still to be written."
  end

  it "is nothing for a device without electrodes, nor for another clinic" do
    other = sized_visit(clinic, fitter)
    %w[locator locator.pdf].each do |page|
      expect(get("/visits/#{other.id}/#{page}").status).to eq 404
    end
    visit = cuff
    sign_out
    sign_in(make_account(make_clinic))
    expect(get("/visits/#{visit.id}/locator.pdf").status).to eq 404
  end

  it "maps every strap with its mark, what kind it is, and the strap as it comes" do
    visit = sized_visit(clinic, fitter)
    run(visit, fitter, :WriteSettings, settings: { "calf" => "60 mm", "hinge_angle" => "2" })
    get "/visits/#{visit.id}/straps"
    expect(text).to include("1 Calf strap, end below 60 mm reference: a little either way 36 cm")
    expect(text).to include("2 Thigh strap, end above not written 46 cm")
    expect(text).to include "Hinge correction, turns of the screw: 2"
  end

  it "shows work that is away on the board, the late first, until it is back" do
    visit = sized_visit(clinic, fitter)
    run(
      visit,
      fitter,
      :WriteJobSlip,
      doer: "maker",
      what: "longer strap",
      due_on: clinic.today.iso8601
    )
    get "/"
    expect(text).to match(/At the workshop and the maker.*Wilma Quarrel longer strap, maker, due/)
    Handrail::Store.at(Time.now + (3 * 86_400)) do
      expect(Handrail::Store::Day.new(clinic).slips.first[:late]).to be true
    end
    run(visit, fitter, :CloseJobSlip, slip: record(visit).fit.slips_out.first[:id], outcome: "back")
    get "/"
    expect(text).not_to include "longer strap"
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "/"
    expect(text).not_to include "At the workshop"
  end
end

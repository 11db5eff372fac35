# frozen_string_literal: true

require "web_helper"
require "nokogiri"
require "pdf-reader"
require_relative "../support/whole_jobs"

# The wearer's sheet in pictures, measured from what is rendered.
RSpec.describe "A wearer's sheet in pictures", :rolled_back do
  include WholeJobs
  include WebHelpers

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  # what a page of a PDF is set in: sizes of its texts, fills of pictures, texts
  receiver =
    Class.new do
      attr_reader :sizes, :pictures, :lowest

      def initialize
        @sizes = []
        @pictures = 0
        @lowest = Float::INFINITY
      end

      def set_text_font_and_size(_font, size) = @sizes << size
      # the ground of a picture, by its colour
      def set_color_for_nonstroking_and_special(*rgb)
        @pictures += 1 if rgb.first(3).map { |n| n.to_f.round(2) } == [0.97, 0.96, 0.93]
      end
    end

  def page_of(visit, language = "en") =
    Handrail::Web::Visits::SheetPage.new(record(visit), language: language)

  def paper(page, size) =
    Handrail::Web::Visits::SheetPaper.new(
      page,
      ["Heron Quay", "2 Quay Street", "0123"],
      size: size
    ).make

  Handrail::Families::Registry.all.each_value do |family|
    it "#{family.key}: pictures every step, in 14 point, on four pages, none nearly empty, fonts along" do
      visit = sized_job(family.key)
      page = page_of(visit)
      steps = page.putting_on + page.taking_off
      expect(steps.map(&:picture)).to all(match(/\A<svg.*class="step-picture"/))
      # what is drawn alike is said alike: a strap by a strap, a posture by a posture
      expect(steps.map(&:picture).uniq.size).to be > steps.size / 2
      made = paper(page, %w[A4 LETTER][family.key.size % 2])
      read = PDF::Reader.new(StringIO.new(made.bytes))
      seen = receiver.new
      read.pages.each { |one| one.walk(seen) }
      expect(seen.sizes.min).to be >= 14
      expect(seen.pictures).to eq steps.size
      expect(made.pages).to be_between(1, 4)
      expect(made.filled).to be >= 1 / 3.0
      fonts = read.pages.flat_map { |one| one.fonts.values.map { |font| font[:BaseFont].to_s } }
      expect(fonts.uniq).to all(match(/\A\h{6}\+DejaVu/))
      text = read.pages.map(&:text).join.gsub(/\s+/, " ")
      expect(text.index(page.way_out.first.split.first(3).join(" "))).to be <
        text.index(page.plans.first.start.split.first)
    end
  end

  it "is whole in German and Spanish as well, whatever the size of the paper" do
    visit = sized_job("gait_harness")
    %w[de es].each do |language|
      page = page_of(visit, language)
      made = paper(page, "LETTER")
      expect([made.pages <= 4, made.filled >= 1 / 3.0]).to eq [true, true]
      expect(page.putting_on.map(&:title)).not_to eq page_of(visit).putting_on.map(&:title)
    end
  end

  it "can draw what a family file may ask for, no more and no less" do
    schema = YAML.safe_load_file(File.join(Handrail::Knowledge::SCHEMAS, "family.yml"))
    drawn = Handrail::Drawings::StepPicture::KINDS - %w[marks]
    expect(schema.dig("$defs", "shows", "enum")).to match_array drawn
  end

  it "makes strong only what a step touches: the strap that is pulled, those before it closed, the rest open" do
    visit = sized_job("knee_unloader", side: "left")
    calf, thigh = page_of(visit).putting_on.select { |step| step.picture.include?("is-active") }
    states = ->(step) { step.picture.scan(/strap is-(\w+)/).flatten }
    expect(states[calf].tally).to eq("active" => 1, "waiting" => 3)
    expect(states[thigh].tally).to eq("active" => 1, "done" => 1, "waiting" => 2)
    expect(calf.picture).to include("step-arrow-head", "hinge is-pale")
    level = page_of(visit).putting_on.find { |step| step.picture.include?("step-sight") }
    expect(level.picture).to include("hinge is-strong").and include("shell is-pale")
  end

  it "shows straps that were opened as open from then on, and those of a wrap that a step closes together" do
    page = page_of(sized_job("compression_wrap", side: "left"))
    states = ->(step) { step.picture.scan(/strap is-(\w+)/).flatten.tally }
    expect(page.taking_off.map { |step| states[step].keys }).to eq [
         [],
         [],
         %w[waiting],
         %w[waiting],
         []
       ]
    lowest, others = page.putting_on.select { |step| states[step]["active"] }
    expect([states[lowest]["active"], states[others]["active"], states[others]["done"]]).to eq [
         1,
         4,
         1
       ]
  end

  it "draws the wearer's own leg: another girth is another picture" do
    product = demo_product("knee_unloader")
    one, two =
      [355, 420].map do |girth|
        visit = order(product)
        cautions(visit)
        take(
          visit,
          fitter,
          girth.to_s,
          site: "calf_15_below_mid_patella",
          side: "right",
          unit: "mm"
        )
        page_of(visit).putting_on.find { |step| step.picture.include?("is-active") }.picture
      end
    expect(one).not_to eq two
  end

  it "shows the marks on the device, and nothing of the clinic's own" do
    visit = sized_job("knee_unloader")
    finish_steps(visit, fitter)
    run(visit, fitter, :WriteSettings, settings: { "calf" => "60 mm" }, side: "right")
    expect(page_of(visit).pictures.map(&:last)).to match [/60 mm/]
    expect(page_of(sized_job("foot_insole")).pictures).to eq []
  end

  it "shows the marks of each of two on a picture of its own, and one picture where they are the same" do
    visit = sized_job("knee_cage", side: "both")
    finish_steps(visit, fitter)
    set = ->(side, text) do
      run(visit, fitter, :WriteSettings, settings: { "thigh" => text }, side: side)
    end
    set.call("left", "60 mm")
    expect(page_of(visit).pictures).to match [["left", /60 mm/]]
    set.call("right", "75 mm")
    expect(page_of(visit).pictures).to match [["left", /60 mm/], ["right", /75 mm/]]
    expect(page_of(visit).pictures.map(&:last)).to match [/\A(?!.*75 mm)/m, /\A(?!.*60 mm)/m]
    expect(page_of(visit, "de").yours("right")).to eq "Rechts: Ihr Gerät"
    expect(paper(page_of(visit), "A4").pages).to be <= 4
    sign_in(fitter)
    get "/visits/#{visit.id}/sheet"
    expect(Nokogiri.HTML(last_response.body).css(".marked figcaption").map(&:text)).to eq [
         "Left: Your device",
         "Right: Your device"
       ]
    set.call("right", "60 mm")
    expect(page_of(visit).pictures).to match [[nil, /60 mm/]]
  end

  it "holds each step up by itself, from the first to the last, and knows no other" do
    sign_in(fitter)
    visit = sized_job("kafo")
    page = page_of(visit)
    get "/visits/#{visit.id}/sheet/on/1"
    expect(last_response.body).to include("show-me", "1 / #{page.putting_on.size}", 'rel="next"')
    expect(last_response.body).not_to include('rel="prev"')
    get "/visits/#{visit.id}/sheet/off/#{page.taking_off.size}?in=de"
    expect(last_response.body).to include('lang="de"', 'rel="prev"')
    expect(last_response.body).not_to include('rel="next"')
    %w[on/0 on/99 off/-1 up/1 on/x].each do |path|
      get "/visits/#{visit.id}/sheet/#{path}"
      expect(last_response.status).to eq 404
    end
  end
end

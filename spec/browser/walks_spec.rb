# frozen_string_literal: true

require "browser_helper"

# Whole jobs of measuring and sizing as a fitter does them, one for each shape of chart and each
# computed sheet.
RSpec.describe "Measuring and sizing, shape by shape" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:patient) { make_patient(clinic, fitter) }

  def product(family, chart: nil, options: {}, **rule)
    maker = Handrail::Store::Maker.find_or_create(clinic_id: clinic.id, name: "Specwright")
    Handrail::Store::Product
      .create(
        clinic_id: clinic.id,
        maker_id: maker.id,
        family: family,
        name: "spec #{SecureRandom.hex(2)}",
        options: Handrail::Store.json(options)
      )
      .tap do |made|
        rows =
          chart &&
            Handrail::Exchange::ChartFile.rows(
              File.join(Handrail::ROOT, "demo", "charts", "#{chart}.csv")
            )
        if rows
          Handrail::Store::ChartRevision.add(
            made,
            rows,
            dated: Date.new(2026, 1, 1),
            tie_rule: "larger",
            **rule
          )
        end
      end
  end

  # orders in the browser: the device, its side, its fields
  def order(made, side: nil, wearer: patient, texts: {}, **chosen)
    sign_in(fitter)
    visit "/patients/#{wearer.id}/orders/new?family=#{made.family}"
    if side && page.has_css?("[type=radio][name=side]", visible: :all)
      find("label", text: /\A#{side}\z/).click
    end
    chosen.each do |key, value|
      find("[name='fields[#{key}]'][value='#{value}']", visible: :all).find(:xpath, "..").click
    end
    { "indication" => "as ordered" }.merge(texts.transform_keys(&:to_s))
      .each { |key, text| find_by_id("f-#{key}").set(text) }
    find_by_id("prescriber").set("Dr Spec")
    find_by_id("prescribed_on").set(Handrail::Quantity::Day.write(clinic.today))
    click_button "Write the order"
    expect(page).to have_css("h2", text: "Before anything else")
  end

  def ask
    find("[name=identity]").click
    click_button "Asked, go on to measure"
    expect(page).to have_css("#bench[data-stage=measure]")
  end

  # reads the site that the bench asks for: its heading, then the text
  def read(heading, text)
    expect(page).to have_css("h1", text: heading)
    enter(text)
  end

  # types into the strip, and waits until the page has taken it
  def enter(text)
    seen = find("#take [name=seen]", visible: :all).value
    find_by_id("value").set(text)
    keyboard.type(:enter)
    expect(page).to have_no_css("#take [name=seen][value='#{seen}']", visible: :all)
  end

  def current_visit = Handrail::Store::Visit.where(clinic_id: clinic.id).order(:id).last

  # readings that were taken before this walk looks on
  def given(posture, side: nil, unit: "cm", **sites)
    sites.each do |site, text|
      take(current_visit, fitter, text, site: site.to_s, side: side, unit: unit, posture: posture)
    end
  end

  def look_at(stage) = visit("/visits/#{current_visit.id}/#{stage}")

  def verdict(text) = expect(page).to(have_css(".zone-verdict", text: text))

  it "grid of girth and length, both legs, the pair as two sizes, one from the shelf" do
    made =
      product(
        "anti_embolism_stocking",
        chart: "seacombe-ward-knee",
        options: {
          "made_for" => "knee"
        }
      )
    stock = { "product" => made.id, "size" => "M regular", "count" => "1", "lot" => "A1" }
    desk(clinic, fitter).run(Fixtures::Commands::ReceiveStock.new(stock))
    order(made, side: "both", length: "knee")
    expect(page).to have_css("legend", text: "NICE NG89").and have_css(
            ".tick",
            text: "Peripheral arterial bypass graft"
          )
    ask
    read("Left: calf widest", "36")
    read("Right: calf widest", "39.5")
    read("Left: heel to back", "41")
    read("Right: heel to back", "41.3")
    visit page.current_path.sub("measure", "size")
    verdict("M regular, clear of both edges")
    click_button "Choose size"
    expect(page).to have_css(".chosen", text: "Held from the shelf")
    expect(page).to have_field("lot", with: "A1")
    click_button "Write it down, go on"
    verdict("None of L regular on the shelf here: to be ordered")
    click_button "Choose size"
    expect(page).to have_css(".chosen", text: "L regular")
  end

  it "the wrong hip is refused with the reason, the right level lit on the figure, the reading kept" do
    order(
      product("lumbosacral_support", chart: "hallam-back-support"),
      stays: "rigid",
      stay_count: "2"
    )
    ask
    click_link "Hip, fullest"
    read("Hip, fullest part of the buttocks", "106")
    visit "#{page.current_path}?at=hip_mid_crest_trochanter"
    verdict("can not stand in for the other. It is kept for the record.")
    expect(page).to have_css(".figure .said.is-on", text: "hip, crest to").and have_css(
            ".figure .tape-on"
          )
    read("Hip, midway", "99")
    verdict("M, clear of both edges")
    click_link "Back length"
    read("Back length", "33")
    visit page.current_path.sub("measure", "size")
    expect(page).to have_css(".sheet-lines", text: /Casings.*3, 4/m).and have_css(
            ".demands",
            text: "Rigid, as prescribed"
          )
  end

  it "support belt: standing and lying, weld and opening, contour reversed, printed to scale" do
    order(
      product("abdominal_support_belt"),
      pouch: "one_piece",
      stoma_side: "left",
      goes_back: "yes"
    )
    ask
    given("standing", abdomen_at_stoma: "104", waist_natural: "98", hip_mid_crest_trochanter: "92")
    given("standing", bulge_to_weld_top: "11", stoma_to_midline: "7")
    given("lying", belt_edge_to_stoma: "6")
    look_at("measure")
    read("Abdomen, in line with the stoma", "99")
    expect(page).to have_css(".sites", text: "Abdomen, at the stoma, lying")
    read("Pouch, weld to weld", "62 mm")
    look_at("size")
    verdict("the hernia goes back when lying")
    expect(page).to have_css(
      ".sheet-lines",
      text: /Belt cut to.*108 cm.*Stock width.*15 cm.*Stock opening.*65 mm/m
    ).and have_css("svg.piece .piece-hole")
    click_button "Choose size"
    expect(page).to have_css(".chosen", text: "width 15 cm, opening 65 mm, contour reversed")
    click_link "Print the sheet, to scale"
    expect(page).to have_css("svg.piece", text: "10 cm on this paper").and have_content(
            "reversed, widest edge up"
          )
    # the drawing on paper: 1080 mm of belt at its scale, in real millimetres
    box, width =
      page.evaluate_script(
        "(() => { const s = document.querySelector('svg.piece'); return " \
          "[s.viewBox.baseVal.width, s.getAttribute('width')]; })()"
      )
    expect(width.to_f * 10).to be_within(0.2).of(box)
  end

  it "panel brace: one extension each arm at 131 cm, made to measure at 180 cm" do
    order(product("lumbar_panel_brace"), moving: "free")
    ask
    read("Trunk, midway", "131")
    visit page.current_path.sub("measure", "size")
    verdict("One extension on each arm")
    expect(page).to have_css(".sheet-lines", text: /Each arm.*44.5 cm.*Extension, each arm.*60 mm/m)
    visit page.current_path.sub("size", "measure")
    click_link "Trunk, rib to crest"
    find(".strike summary").click
    find("[name=reason]").set("tape slipped")
    find(".strike form button").click
    expect(page).to have_css(".is-struck")
    read("Trunk, midway", "180")
    visit page.current_path.sub("measure", "size")
    verdict("no belt with extensions reaches. Made to measure.")
  end

  it "several girths that must agree, two millimetres from an edge on a steep leg: find the mark, read again" do
    frame = product("knee_frame", chart: "oskerry-step-frame", tie_rule: "nearest")
    order(frame, side: "right", range_limited: "no")
    ask
    read("Thigh, 15 cm above", "51")
    read("Knee, mid patella", "37.8")
    read("Calf, 15 cm below", "38.7")
    visit page.current_path
    verdict(
      /1 cm (higher|lower) on this leg reads \d+ mm (more|less), and that would be L. Find the mark again/
    )
    before = find(".headline strong:last-child").text[/\d+/].to_i
    click_link "Calf, 15 cm below"
    %w[37.0 37.1 37.0].each do |text|
      enter(text) && visit("#{page.current_path}?at=calf_15_below_mid_patella:right")
    end
    expect(find(".headline strong:last-child").text[/\d+/].to_i).to be > before
  end

  it "insole: the window of the plate decides, 3 degrees at 60 mm are 3.1 mm" do
    order(
      product(
        "foot_insole",
        chart: "pellow-insole",
        tie_rule: "primary",
        primary_site: "heel_to_ball"
      ),
      side: "both",
      texts: {
        degrees_left: "3"
      },
      towards_left: "medial"
    )
    ask
    %w[left right].each do |side|
      given(
        "standing",
        side: side,
        unit: "mm",
        foot_length: "260",
        heel_to_ball: "188",
        heel_width: "60"
      )
    end
    look_at("size")
    expect(page).to have_css(".chip", text: /41\s*by the lengths/).and have_css(
            ".sheet-lines",
            text: /Wedge height.*3.1 mm/m
          )
    click_button "the plate is short"
    expect(page).to have_css(".taken", text: "41: too small")
    click_button "It fits"
    expect(page).to have_css(
      ".zone-verdict",
      text: "The trial decided: 42 (the lengths alone said 41)"
    )
    click_button "Choose size"
    expect(page).to have_css(".chosen", text: "42")
  end

  it "independent axes: belt and strut; strap count of a wrap; levels of a long orthosis" do
    order(
      product("scoliosis_unloader", chart: "hallam-strut-brace"),
      side: "right",
      pads: "with",
      chest_pad: "no"
    )
    ask
    given(
      "standing",
      side: "right",
      waist_natural: "84",
      hip_mid_crest_trochanter: "96",
      crest_to_armpit: "30"
    )
    look_at("size")
    verdict("M long")
    expect(page).to have_css(".code", text: "strut R")
  end

  it "wrap straps: a longer leg gets straps added, with the index of the pressures first" do
    order(product("compression_wrap", chart: "corran-wrap", tie_rule: "nearest"), side: "left")
    find("[name='pressures[arm_left]']").set("140")
    find("[name='pressures[ankle_left_front]']").set("so")
    find("[name=identity]").click
    click_button "Asked, go on to measure"
    expect(page).to have_css(
      ".notice.is-stop",
      text: "can not be read as a pressure"
    ).and have_field("pressures[ankle_left_front]", with: "so")
    find("[name='pressures[ankle_left_front]']").set("150")
    click_button "Asked, go on to measure"
    expect(page).to have_css("h1", text: "Ankle, narrowest part")
    given(
      "raised",
      side: "left",
      ankle_narrowest: "25",
      calf_widest: "40",
      calf_below_knee: "37",
      ankle_to_knee_crease: "41"
    )
    look_at("size")
    expect(page).to have_css(
      ".sheet-lines",
      text: /Straps needed.*6.*Added straps cut to.*45 cm/m
    ).and have_css(".headline", text: "M")
  end

  it "a long leg orthosis: its levels, asked about when two heights do not agree" do
    order(product("kafo"), side: "left", cuff: "back", knee: "lock", feels: "full")
    ask
    given("sitting", side: "left", unit: "mm", condyle_width: "100", malleolus_width: "72")
    given(
      "standing",
      side: "left",
      thigh_20_above_mid_patella: "50",
      calf_20_below_mid_patella: "30",
      ankle_narrowest: "23"
    )
    given(
      "standing",
      side: "left",
      mid_patella_height: "47.2",
      condyle_height: "39",
      foot_length: "26.8",
      ball_width: "9.9",
      malleolus_height: "8.1"
    )
    look_at("size")
    verdict("The condyles read 82 mm from mid patella. Feel for them again.")
    wrong = record(current_visit).rows(:readings).find { |row| row[:site] == "condyle_height" }
    run(current_visit, fitter, :StrikeReading, row: wrong[:id], reason: "read at the shin")
    given("standing", side: "left", condyle_height: "46.5")
    look_at("size")
    expect(page).to have_css(".sheet-lines", text: /Thigh level.*67.2 cm.*Calf level.*27.2 cm/m)
  end

  it "a maker's file with two faults, mended, and put in force" do
    senior = make_account(clinic, "senior")
    made = make_product(clinic)
    sign_in(senior)
    visit "/catalogue/#{made.id}"
    faulty =
      "part,size,site,min,max,unit,posture,tension\n" \
        ",S,calf_15_below_mid_patella,35.4,32,cm,,snug\n" \
        ",M,calf_15_below_mid_patella,35.5,thirty,cm,,snug\n" \
        ",L,calf_15_below_mid_patella,40,44,cm,,snug\n"
    path = File.join(Dir.tmpdir, "maker.csv").tap { |file| File.write(file, faulty) }
    attach_file("file", path)
    click_button "Look at the file"
    expect(page).to have_css(".notice.is-stop li", count: 2).and have_content(
            "maker.csv line 2"
          ).and have_content("maker.csv line 3")
    File.write(path, faulty.sub("35.4,32", "32,35.4").sub("thirty", "39.9"))
    attach_file("file", path)
    click_button "Look at the file"
    expect(page).to have_css("h2", text: "before and after").and have_css(".grip", count: 6)
    # an edge moved with the arrow keys: the field follows, and the look-over with it
    grip = find(".grip[data-line='1'][data-edge='max']")
    grip.evaluate_script("this.focus()")
    3.times { keyboard.type(:left) }
    expect(page).to have_field("rows[1][max]", with: "39.6")
    expect(page).to have_css("#look", text: "nothing holds 39.6 cm to 40 cm")
    click_button "Put in force"
    expect(page).to have_css("h2", text: "Chart of #{Handrail::Quantity::Day.write(clinic.today)}")
  end
end

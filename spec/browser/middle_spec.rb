# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# In the middle of the work: somebody is called away at any stage, a colleague takes the same visit in
# hand, a device falls silent, a paper is made on the way.
RSpec.describe "In the middle of the work" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  def bench(made, stage, query = "") = visit("/visits/#{made.id}/#{stage}#{query}")

  # what stands in a field after the page was left and opened again, once what is kept sealed was read
  def after_reload(field, text)
    page.refresh
    find(field, visible: :all) { |one| one.value == text }.value
  end

  describe "called away, the page is opened again with what was typed" do
    it "over a value that was refused" do
      visit "/patients/new"
      %w[record_number given_name family_name].each do |name|
        page.find("[name=#{name}]").set("W 77")
      end
      page.find("[name=born_on]").set("31.2.1961")
      page.execute_script("document.querySelector('[name=born_on]').form.requestSubmit()")
      expect(page).to have_css("[name=born_on][aria-invalid]")
      page.find("[name=born_on]").set("28.2.1961")
      expect(after_reload("[name=born_on]", "28.2.1961")).to eq "28.2.1961"
    end

    it "order and cautions" do
      bench(make_visit(clinic, fitter), "order")
      find("[name=note]").set("left her glasses")
      expect(after_reload("[name=note]", "left her glasses")).to eq "left her glasses"
      expect(page).to have_text("Typed here before and not saved yet.")
    end

    it "measuring: at its own site alone, and no more once it was taken" do
      made = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
      bench(made, "measure")
      find("#value").set("36.")
      expect(after_reload("#value", "36.")).to eq "36."
      bench(made, "measure", "?at=thigh_15_above_mid_patella:left")
      expect(find("#value").value).to eq ""
      bench(made, "measure", "?at=calf_15_below_mid_patella:left")
      find("#value").set("36.5")
      find("#value").send_keys(:enter)
      expect(page).to have_css(".sites .value", text: /36\.5/)
      bench(made, "measure", "?at=calf_15_below_mid_patella:left")
      expect(find("#value").value).to eq ""
      expect(record(made).rows(:readings).map { |row| row[:typed] }).to eq ["36.5"]
    end

    it "sizing, fitting, teaching, handing over" do
      made = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
      2.times { take(made, fitter, "36.5") }
      run(made, fitter, :ChooseSize, size: "M")
      bench(made, "size")
      find("[name=serial]").set("S-77")
      expect(after_reload("[name=serial]", "S-77")).to eq "S-77"

      run(made, fitter, :IssueDevice, serial: "S-1")
      finish_steps(made, fitter)
      bench(made, "fit", "?check=slip")
      find("#check-value").set("12 m")
      expect(after_reload("#check-value", "12 m")).to eq "12 m"

      look_at_all(made, fitter)
      bench(made, "teach")
      find("[name=who]").set("his daughter")
      expect(after_reload("[name=who]", "his daughter")).to eq "his daughter"

      teach(made, fitter)
      bench(made, "hand-over")
      find("[name=signed_name]").set("Wilma Q")
      expect(after_reload("[name=signed_name]", "Wilma Q")).to eq "Wilma Q"
      expect(record(made).handed_over?).to be false
    end

    it "a recheck" do
      later = record(handed_over_visit(clinic, fitter)).visits.last
      ask(later, fitter)
      bench(later, "recheck")
      field = all("[name=answer][type=text], input.input[name=answer]").first
      field.set("about si")
      expect(after_reload("##{field[:id]}", "about si")).to eq "about si"
    end
  end

  it "a colleague has done the step meanwhile: it is said, and done once" do
    made = sized_visit(clinic, fitter)
    bench(made, "fit")
    first = record(made).fit.applying("left").next
    run(made, make_account(clinic, "senior"), :FinishStep, step: first.key, side: "left")
    find("[data-key=Space]").click
    expect(page).to have_css("#bench")
    wait_until { page.has_no_css?(".now h1", text: made_title(made, first)) }
    expect(record(made).rows(:steps_done).count { |row| row[:step] == first.key }).to eq 1
  end

  def made_title(made, step) = record(made).fill(step.title)

  it "the sensor falls silent between two straps: said, what was read stays, and the rest is typed" do
    sensor = make_stand_in("sensor", seed: 4)
    ENV["HANDRAIL_SENSOR"] = "127.0.0.1:#{sensor.port}"
    made = sized_job("compression_wrap")
    finish_steps(made, fitter)
    straps = record(made).fit.checklist.items.select { |item| item.check.kind == "pressure" }
    Handrail::Instruments.at("sensor").command("PRESS 44")
    # asked for the second strap, it lands there, though the first is still to be read
    bench(made, "fit", "?check=#{straps[1].key}")
    click_button "Read from the sensor"
    expect(page).to have_text(/Sensor: [\d.]+ mmHg. Take it/)
    click_button "Take"
    wait_until { record(made).rows(:check_results).any? }
    sensor.stop
    expect(record(made).rows(:check_results).first[:place]).to eq straps[1].place
    bench(made, "fit", "?check=#{straps[2].key}")
    find("#check-value").set("41")
    click_button "Read from the sensor"
    expect(page).to have_css("[role=alert]", text: "does not answer")
    expect(find("#check-value").value).to eq "41"
    # nor is it lost where there is no sensor any more, since the page was made
    ENV.delete("HANDRAIL_SENSOR")
    click_button "Read from the sensor"
    expect(page).to have_css("[role=alert]", text: "No sensor is set up here")
    expect(find("#check-value").value).to eq "41"
    click_button "Take"
    wait_until { record(made).rows(:check_results).size == 2 }
    rows = record(made).rows(:check_results)
    expect(rows.map { |row| row[:source] }).to eq %w[sensor typed]
    expect(rows.last[:value].to_i).to eq 41
  ensure
    ENV.delete("HANDRAIL_SENSOR")
    sensor&.stop
  end

  it "stimulator cuff: the offsets are typed, and the locator sheet is made of them, to scale" do
    made = sized_job("stimulator_cuff")
    bench(made, "fit", "?marks=1")
    offsets = {
      "upper_across" => "45 mm",
      "upper_down" => "12 mm",
      "lower_across" => "30 mm",
      "lower_down" => "110 mm"
    }
    offsets.each { |key, text| find("[name='settings[#{key}]']", visible: :all).set(text) }
    click_button "Write marks"
    wait_until { record(made).rows(:strap_settings).size >= 4 }
    visit "/visits/#{made.id}/locator"
    expect(page).to have_css(".to-scale svg").and have_link("PDF, Letter")
    size = page.evaluate_script(<<~JS)
      (() => {
        const sheet = document.querySelector(".to-scale svg");
        return [sheet.getAttribute("width"), sheet.getAttribute("height")];
      })()
    JS
    expect(size).to all(match(/\A[\d.]+mm\z/))
    kept = page.evaluate_async_script(<<~JS)
      fetch("/visits/#{made.id}/locator.pdf").then((a) => a.arrayBuffer())
        .then((b) => arguments[0](new TextDecoder("latin1").decode(b.slice(0, 5))))
    JS
    expect(kept).to eq "%PDF-"
  end

  it "insole: the line of each foot on a photo of its own, and each foot its own sum" do
    made = sized_job("foot_insole", side: "both")
    expect(record(made).sides).to eq %w[left right]
    line = record(made).family.lines.first
    points = Handrail::Fitting::Alignment::LINES.fetch(line).points.size
    %w[left right].each_with_index do |side, i|
      bench(made, "line", "?line=#{line}&side=#{side}")
      attach_file "photo-file", photo(400, 500)
      fill_in "What it shows", with: "#{side} foot from behind"
      click_button "Keep the photo"
      wait_until { record(made).body.photos.size == i + 1 }
      photo = record(made).body.photos.last[:id]
      bench(made, "line", "?line=#{line}&side=#{side}&photo=#{photo}")
      all("[data-point]").each_with_index do |field, n|
        field.set("#{200 + (n == 1 ? [12, -30][i] : 0)},#{80 + (n * 120)}")
      end
      click_button "Compute it"
      wait_until { record(made).body.alignments(line, side).size == 1 }
    end
    angles =
      %w[left right].map do |side|
        record(made).body.alignments(line, side).last.last.figures.values.first
      end
    expect([points, angles.uniq.size]).to match [be >= 3, 2]
    expect(record(made).body.photos.map { |row| row[:side] }).to eq %w[left right]
    expect(axe).to be_empty
  end
end

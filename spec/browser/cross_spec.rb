# frozen_string_literal: true

require "browser_helper"

# A reading that does not go with the others, asked about where it was taken.
RSpec.describe "Readings that check each other" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:fitting_visit) do
    make_visit(clinic, fitter).tap do |made|
      ask(made, fitter)
      take(made, fitter, "36", site: "knee_mid_patella")
    end
  end

  def bench
    sign_in(fitter)
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css(".sites .is-current", text: "Calf")
  end

  def live = record(fitting_visit).live_readings.to_h { |row| [row[:site], row[:typed]] }

  it "asks about turned digits with the text marked, and takes what was meant with one key" do
    bench
    keys("63", :enter)
    expect(page).to have_css(
      ".question",
      text: /63 cm beside knee.* 36 cm: not one adult in 1,000,000.*Was it 36 cm/m
    )
    expect(page.evaluate_script("document.getElementById('value').selectionEnd")).to eq 2
    expect(page).to have_css(".question", text: "lie outside these figures")
    expect(axe).to be_empty
    keys("w")
    expect(page).to have_no_css(".question")
    expect(live).to include(CoreHelpers::CALF => "36")
  end

  it "lets the same figure not count twice while it is asked about" do
    bench
    keys("63", :enter)
    expect(page).to have_css(".question")
    keys(:enter)
    expect(page).to have_css("[role=alert]", text: "Say first whether 63 cm is so")
    expect(record(fitting_visit).rows(:readings).size).to eq 2
  end

  it "is answered “it is so” for an unusual leg, once" do
    bench
    keys("63", :enter)
    expect(page).to have_css(".question")
    keys("y")
    expect(page).to have_no_css(".question")
    visit "/visits/#{fitting_visit.id}/measure?at=#{
            record(fitting_visit).needs.find { |i| i.site.key == CoreHelpers::CALF }.key
          }"
    keys("62.8", :enter)
    expect(page).to have_css(".sites", text: "2 readings")
    expect(page).to have_no_css(".question")
    expect(
      record(fitting_visit).usable_readings.count { |row| row[:site] == CoreHelpers::CALF }
    ).to eq 2
  end

  it "puts two sites right that were taken for each other" do
    bench
    take(fitting_visit, fitter, "34.5")
    row = record(fitting_visit).live_readings.last
    asked = {
      "code" => "beside",
      "site" => row[:site],
      "read" => "34.5 cm",
      "other" => "knee_mid_patella",
      "one_in" => 1000,
      "beside" => [["knee_mid_patella", "36 cm"]],
      "from" => "33.0",
      "to" => "39.0",
      "unit" => "cm",
      "high" => false
    }
    overwrite(row[:visit_id], :readings, { id: row[:id] }, question: Handrail::Store.json(asked))
    visit "/visits/#{fitting_visit.id}/measure?at=#{
            record(fitting_visit).needs.find { |i| i.site.key == CoreHelpers::CALF }.key
          }"
    click_button "It was knee"
    expect(page).to have_no_css(".question")
    expect(live).to eq("knee_mid_patella" => "34.5", CoreHelpers::CALF => "36")
  end

  it "keeps question and answer through a lost connection" do
    bench
    keys("63", :enter)
    expect(page).to have_css(".question")
    page.driver.browser.network.offline_mode
    keys("w")
    sleep 0.5
    expect(page).to have_css(".question")
    expect(page).to have_css("#unsaved", text: "There is no line")
    page.driver.browser.network.emulate_network_conditions(offline: false)
    click_button "It was 36 cm"
    expect(page).to have_no_css(".question")
    expect(page).to have_no_css("#unsaved", visible: true)
    expect(live).to include(CoreHelpers::CALF => "36")
  end

  it "comes back to the question after the page was closed on it" do
    bench
    keys("63", :enter)
    expect(page).to have_css(".question")
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css(".question", text: "Was it 36 cm")
  end

  it "draws the unread part of the leg as the readings let expect it" do
    bench
    expect(page).to have_css(".figure .unread", minimum: 2)
    expect(page).to have_css(".figure .is-expected", text: /\d+ to \d+\?/)
  end
end

# frozen_string_literal: true

require "browser_helper"
require_relative "../support/asked_now"

# A recheck on one page: the tape, what they say, the checks, then closing and the next day, with the keys
# where the fitter needs them.
RSpec.describe "A recheck on its one page" do
  include AskedNow

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:worn) { handed_over_visit(clinic, fitter) }
  let(:later) { record(worn).visits.last.tap { |one| ask(one, fitter) } }

  after { page.driver.resize(1280, 800) }

  [[1280, 800], [820, 1180]].each do |width, height|
    it "is closed without leaving it, at #{width} by #{height}" do
      page.driver.resize(width, height)
      sign_in(fitter)
      visit "/visits/#{later.id}/recheck"
      asked_now!(focus: "#value")
      keys("36.5")
      keys(:enter)
      expect(page).to have_css("td.value", text: "36.5 cm")
      expect(page).to have_no_css("#value")
      answer_checks
      record(later)
        .asks_open
        .map(&:first)
        .each do |ask|
          asked_now!(focus: "form.ask-one.is-asked:has([value='#{ask.key}'])")
          keys("1")
          expect(page).to have_css("form.ask-one:has([value='#{ask.key}']) .is-on")
        end
      click_button "Close the recheck"
      expect(page).to have_css(".next-visit .openings button, .next-visit a", minimum: 1)
      expect(record(later)).to be_closed
      first(".next-visit .openings button").click
      expect(page).to have_css(".next-visit", text: "booked")
      expect(record(worn).visits.last.planned_for).not_to be_nil
    end
  end

  # every check with the keys that it names, each wholly in view and with the focus
  def answer_checks(up_to: nil)
    while (item = record(later).fit.checklist(record(later).sides.first).next)
      break if up_to&.call(item)

      asked = "#check-#{item.key.tr(":", "-")}"
      expect(page).to have_css("#{asked}.is-current")
      asked_now!(focus: item.check.measured? ? "#check-value" : asked)
      item.check.measured? ? keys("0", :enter) : keys("y")
      expect(page).to have_no_css("#{asked}.is-current")
    end
  end

  it "is not answered by the pedal: Space on a check does nothing" do
    take(later, fitter, "36.5")
    side = record(later).sides.first
    measured = record(later).fit.checklist(side).next
    look(later, fitter, measured.check.key, place: measured.place, side: side, value: "0")
    sign_in(fitter)
    visit "/visits/#{later.id}/recheck"
    seen = record(later).rows(:check_results).size
    3.times { keys(:space) }
    visit "/visits/#{later.id}/recheck"
    expect(record(later).rows(:check_results).size).to eq seen
  end

  it "is answered once by a key that is held, or that something lies on" do
    take(later, fitter, "36.5")
    sign_in(fitter)
    visit "/visits/#{later.id}/recheck"
    answer_checks(up_to: ->(item) { !item.check.measured? })
    seen = record(later).rows(:check_results).size
    expect(page).to have_css(".checks .is-current [data-key=y]")
    held("y")
    expect(page).to have_css(".checks .is-current")
    sleep 0.5
    expect(record(later).rows(:check_results).size).to eq seen + 1
  end

  it "takes a digit for an answer only where a question waits, and never from a field" do
    sign_in(fitter)
    visit "/visits/#{later.id}/recheck"
    asked_now!(focus: "#value")
    keys("1")
    expect(find("#value").value).to eq "1"
    expect(page).to have_no_css(".ask-one.is-asked")
    find("#value").set("")
    find("h1").click
    keys("1")
    sleep 0.3
    expect(record(later).rows(:recheck_answers)).to be_empty
  end

  # a key that goes down and stays down: 20 times a second, for a second
  def held(key)
    page.execute_script(<<~JS, key)
      const [key] = arguments;
      for (let i = 0; i < 20; i += 1) {
        setTimeout(() => {
          const at = document.activeElement || document.body;
          at.dispatchEvent(new KeyboardEvent("keydown", { key, repeat: i > 0, bubbles: true, cancelable: true }));
        }, i * 50);
      }
    JS
    sleep 1.1
  end

  it "keeps what was typed at a check apart from what stands in the strip" do
    sign_in(fitter)
    visit "/visits/#{later.id}/recheck"
    find("#check-value").set("nonsense")
    within(".checks .is-current") { click_button "Take" }
    expect(page).to have_css("#check-value[aria-invalid]")
    expect(find("#value").value).to eq ""
    expect(page).to have_no_css("#value[aria-invalid]")
  end
end

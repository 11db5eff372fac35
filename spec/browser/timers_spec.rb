# frozen_string_literal: true

require "browser_helper"

# Timers and the pressures of a wrap, as the fitter sees them.
RSpec.describe "While the trade waits" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:sized) { sized_visit(clinic, fitter) }

  it "runs a timer on every page of the visit and on the board, through a reload, and asks when it rings" do
    sign_in(fitter)
    visit "/visits/#{sized.id}/fit"
    within(find("form.timer", text: "Colour and warmth")) { click_button "Start it" }
    expect(page).to have_css(".timer-running [data-left]", text: /\d+ min \d\d s left/)
    expect(page).to have_no_button("Well")
    expect(axe).to be_empty
    visit "/visits/#{sized.id}/measure"
    expect(page).to have_css(".timer-running", text: "Colour and warmth")
    visit "/"
    expect(page).to have_css(".timer-running", text: /Wilma Quarrel\s*Colour and warmth/)
    expect(axe).to be_empty
    overwrite(sized.id, :visit_timers, {}, rings_at: Time.now - 1)
    visit "/visits/#{sized.id}/teach"
    expect(page).to have_css(".timer-running.is-ringing", text: "look now")
    click_button "Well"
    expect(page).to have_no_css(".timer-running")
    expect(record(sized).events.last[:said]).to include("looked, and well")
  end
end

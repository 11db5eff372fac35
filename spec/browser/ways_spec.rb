# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# A check that can fail in two ways, in a browser: nothing is taken before it is said which, no key answers it by
# itself, and what is offered then mends that way.
RSpec.describe "Checks that fail in two ways" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:fitting) { sized_job("knee_unloader").tap { |made| finish_steps(made, fitter) } }

  before { sign_in(fitter) }

  def results = record(fitting).rows(:check_results)

  it "asks too low or too high of a height that is off, keeps the figure meanwhile, and offers what mends it" do
    visit "/visits/#{fitting.id}/fit?check=hinge_height"
    fill_in "check-value", with: "12"
    click_button "Take"
    expect(page).to have_css("[role=alert]", text: "Say which way: too low or too high.")
    expect(find("#check-value").value).to eq "12"
    expect(results).to be_empty
    find(".ways .chip", text: "too high").click
    click_button "Take"
    expect(page).to have_css(".checks", text: "12 mm, too high")
    expect(page).to have_css("h3", text: "The hinge is too high")
    expect(page).to have_css(".offers", text: "let it down to").and have_no_css(
            ".offers",
            text: "seat it higher"
          )
    expect(results.map { |row| [row[:outcome], row[:way]] }).to eq [%w[bad too_high]]
    # within the limit nobody is asked
    visit "/visits/#{fitting.id}/fit?check=hinge_height"
    fill_in "check-value", with: "3"
    click_button "Take"
    expect(page).to have_css(".checks", text: "3 mm")
    expect(results.last[:way]).to be_nil
    expect(axe).to be_empty
  end

  it "goes to the ways at the key for no, and takes none of them by itself" do
    visit "/visits/#{fitting.id}/fit?check=hinge_depth"
    expect(page).to have_css(".is-current", text: "Hinge on the midline")
    keys("n")
    expect(page.evaluate_script("document.activeElement.value")).to eq "forward"
    expect(results).to be_empty
    keys(:tab, :enter)
    expect(page).to have_css(".checks", text: "too far back")
    expect(results.map { |row| row[:way] }).to eq %w[backward]
  end

  it "gives the sheet in Spanish, with the way out first" do
    visit "/visits/#{fitting.id}/sheet?in=es"
    expect(page).to have_css("main[lang=es] section.stop li", text: "Siéntese, el pie en el suelo.")
    expect(page).to have_content("Primero la cinta de la pantorrilla").and have_content(
            "número de emergencias"
          )
    expect(page.text).not_to match(/\b(the|and|with|your|wear|strap|skin|after|day|hours)\b/i)
    expect(axe).to be_empty
  end
end

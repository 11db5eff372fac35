# frozen_string_literal: true

require "browser_helper"

# What is to be done next lies on the screen, on the bench's monitor and on a tablet.
RSpec.describe "What comes next is in view" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }
  after { page.driver.resize(1280, 800) }

  # whether the whole of it lies above the bar and within the window
  def in_view?(selector)
    page.evaluate_script(<<~JS)
      (() => {
        const box = document.querySelector(#{selector.to_json}).getBoundingClientRect();
        const bar = document.querySelector(".bar");
        const bottom = bar && !bar.contains(document.querySelector(#{selector.to_json}))
          ? bar.getBoundingClientRect().top : innerHeight;
        return box.height > 0 && box.top >= 0 && box.bottom <= bottom + 1 && box.right <= innerWidth;
      })()
    JS
  end

  def sized
    make_visit(clinic, fitter).tap do |made|
      ask(made, fitter)
      2.times { take(made, fitter, "36.5") }
      run(made, fitter, :ChooseSize, size: "M")
    end
  end

  [[1280, 800], [820, 1180]].each do |width, height|
    it "the device's number once a size was chosen, the button of a new patient, at #{width} by #{height}" do
      page.driver.resize(width, height)
      visit "/visits/#{sized.id}/size"
      expect(in_view?("[name=serial]")).to be true
      visit "/patients/new"
      expect(page).to have_field("family_name").and have_no_field("owner_name")
      expect(in_view?("main button.is-primary, footer button.is-primary")).to be true
      visit "/"
      %w[Week Catalogue Handbook].each { |name| expect(page).to have_link(name) }
      expect(page).to have_link("Our tapes")
    end
  end

  it "a question about the reading just taken, with each of its answers, while the field has the focus" do
    made = make_visit(clinic, fitter)
    ask(made, fitter)
    visit "/visits/#{made.id}/measure"
    %w[36.5 63]
      .each
      .with_index(1) do |typed, number|
        expect(page).to have_css("#value:focus")
        keys(typed, :enter)
        wait_until { record(made).live_readings.size == number }
      end
    expect(page).to have_css("#bench .question")
    answers = page.all("#bench .question button[name=answer]").map { |one| one[:value] }
    expect(answers).to include("right", "again")
    answers.each { |one| expect([one, in_view?(".question [value=#{one}]")]).to eq [one, true] }
    expect(in_view?("#value")).to be true
    expect(page).to have_css("#value:focus")
  end

  it "who it is for, by two identifiers on one line, above the questions that are asked first" do
    made = make_visit(clinic, fitter)
    visit "/visits/#{made.id}/order"
    expect(page).to have_css("#ask:focus")
    expect(page.evaluate_script("scrollY")).to eq 0
    expect(in_view?(".who .patient")).to be true
    tops = page.evaluate_script(<<~JS)
      [...document.querySelectorAll(".who .patient, .who .identifier")].map((one) => one.getBoundingClientRect().bottom)
    JS
    expect(tops.size).to be >= 3
    expect(tops.max - tops.min).to be < 8
  end

  [[1280, 800], [820, 1180]].each do |width, height|
    it "who it is for, however far the page is moved, and what is asked clear of it, at #{width} by #{height}" do
      page.driver.resize(width, height)
      made = sized
      run(made, fitter, :IssueDevice, serial: "SN-1")
      visit "/visits/#{made.id}/fit"
      expect(page).to have_css("#bench .checks .is-current")
      page.execute_script("window.scrollTo(0, document.documentElement.scrollHeight)")
      wait_until { page.evaluate_script("scrollY").positive? }
      expect(in_view?(".who .patient")).to be true
      [".who .patient", ".who .identifier"].each do |one|
        expect([one, in_view?(one)]).to eq [one, true]
      end
      page.execute_script(
        "document.querySelector('.checks .is-current').scrollIntoView({ block: 'nearest' })"
      )
      above = page.evaluate_script(<<~JS)
        document.querySelector(".checks .is-current").getBoundingClientRect().top -
          document.querySelector(".top").getBoundingClientRect().bottom
      JS
      expect(above).to be >= 0
    end
  end

  it "a refused reading is selected: what is typed next takes its place" do
    made = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
    visit "/visits/#{made.id}/measure"
    find("#value").set("36 to 37")
    find("#value").send_keys(:enter)
    expect(page).to have_css("[role=alert]")
    wait_until do
      page.evaluate_script(
        "document.activeElement.id === 'value' && document.activeElement.selectionEnd > 0"
      )
    end
    keys("36.5")
    expect(find("#value").value).to eq "36.5"
  end

  it "the only product of a family is chosen already" do
    product = make_product(clinic)
    patient = make_patient(clinic, fitter)
    visit "/patients/#{patient.id}/orders/new?family=#{product.family}"
    expect(page).to have_checked_field("product_id", visible: :all, with: product.id.to_s)
  end
end

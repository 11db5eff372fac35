# frozen_string_literal: true

require "browser_helper"

RSpec.describe "What goes wrong, and is not lost" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:fitting_visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }

  def bench
    sign_in(fitter)
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page.evaluate_script("document.activeElement.id")).to eq "value"
  end

  def field = page.find("#value")
  def stored = record(fitting_visit).rows(:readings).map { |row| row[:typed] }

  it "keeps a rejected entry in the field and says how to write it" do
    bench
    keys("36 to 37", :enter)
    expect(page).to have_css(
      "[role=alert]",
      text: "is two readings. Enter them one after the other."
    )
    expect(field.value).to eq "36 to 37"
    expect(stored).to be_empty
  end

  it "opens the handbook beside a half-typed reading, and leaves it as it is" do
    bench
    keys("36.")
    page.find(".how .look-up").click
    expect(page).to have_css("#beside h1", text: "Calf, 15 cm below mid patella")
    expect(field.value).to eq "36."
    page.find("#beside a", text: "Knee unloader").click
    expect(page).to have_css("#beside h1", text: "Knee unloader")
    keys(:escape)
    expect(page).to have_no_css("#beside")
    expect(page.evaluate_script("document.activeElement.id")).to eq "value"
    keys("5", :enter)
    expect(page).to have_css(".sites .is-current", text: "Knee")
    expect(stored).to eq ["36.5"]
  end

  it "never takes what is typed in the search for a reading, not even after its answer came" do
    bench
    number = fitting_visit.fitting.patient.record_number
    keys("/")
    keys(number[0, 3].downcase)
    expect(page).to have_css("#found a", text: number)
    expect(page.evaluate_script("document.activeElement.id")).to eq "find"
    keys("412", :enter)
    expect(page).to have_current_path("/patients/found")
    expect(stored).to be_empty
  end

  it "goes through what was found by arrows, and opens the only one by Enter" do
    bench
    patient = fitting_visit.fitting.patient
    keys("/")
    keys(patient.record_number)
    expect(page).to have_css("#found a", count: 1)
    keys(:down)
    expect(page.evaluate_script("document.activeElement.closest('#found') !== null")).to be true
    keys(:up)
    expect(page.evaluate_script("document.activeElement.id")).to eq "find"
    keys(:enter)
    expect(page).to have_current_path("/patients/#{patient.id}")
  end

  it "marks a half-typed reading when it comes back, so that the next typing takes its place" do
    bench
    keys("35")
    visit "/"
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_field("value", with: "35")
    keys("35.5", :enter)
    expect(page).to have_css(".sites .is-current", text: "Knee")
    expect(stored).to eq ["35.5"]
  end

  it "says whose a form was that is left behind, and starts afresh" do
    sign_in(fitter)
    visit "/patients/new"
    find_by_id("given_name").set("Zoe")
    find_by_id("family_name").set("Tamarin")
    visit "/"
    visit "/patients/new"
    expect(page).to have_css(".draft-note", text: "Zoe Tamarin")
    click_button "Start afresh"
    expect(page).to have_field("given_name", with: "")
    visit "/"
    visit "/patients/new"
    expect(page).to have_no_css(".draft-note")
  end

  it "shows what a colleague wrote meanwhile, and saves on the second Enter" do
    bench
    take(fitting_visit, make_account(clinic), "36.2")
    keys("36.9", :enter)
    expect(page).to have_css("[role=alert]", text: "36.2 cm")
    expect([field.value, stored]).to eq ["36.9", ["36.2"]]
    page.execute_script("document.getElementById('value').focus()")
    keys(:enter)
    expect(page).to have_css(".sites .is-current", text: "Knee")
    expect(stored).to eq %w[36.2 36.9]
  end

  it "keeps readings through a lost connection and a restart of the page, and sends each once" do
    bench
    network = page.driver.browser.network
    network.offline_mode
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    expect(page).to have_css(".waits", text: "36.5 cm")
    keys("36.7", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(2\)/)
    expect(stored).to be_empty
    # the page is gone before the line is back: the next one sends what it left
    visit "about:blank"
    network.emulate_network_conditions(offline: false)
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_no_css("#unsaved", visible: true)
    expect(stored).to eq %w[36.5 36.7]
    expect(page).to have_no_css(".waits")
    visit "/visits/#{fitting_visit.id}/measure"
    sleep 0.5
    expect(stored.size).to eq 2
  end

  it "gives a reading that was kept to its own wearer, whoever's bench is open when the line comes back" do
    bench
    other = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
    network = page.driver.browser.network
    network.offline_mode
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    network.emulate_network_conditions(offline: false)
    visit "/visits/#{other.id}/measure"
    expect(page).to have_no_css("#unsaved", visible: true)
    expect(page).to have_css(".who", text: other.fitting.patient.record_number)
    expect(page).to have_no_css(".sites", text: "36.5")
    expect([stored, record(other).rows(:readings)]).to eq [["36.5"], []]
  end

  it "keeps an entry on the screen that could not be taken, with its reason, on any page" do
    bench
    network = page.driver.browser.network
    network.offline_mode
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    take(fitting_visit, make_account(clinic), "36.2")
    network.emulate_network_conditions(offline: false)
    visit "/"
    expect(page).to have_css("#unsaved", text: /36\.5 cm/)
    expect(stored).to eq ["36.2"]
    visit "/patients"
    expect(page).to have_css("#unsaved", text: /36\.5 cm/)
  end

  [[1280, 800], [820, 1180]].each do |width, height|
    it "names the wearer by two identifiers, the side and the device on every clinical page at #{width} by " \
         "#{height}" do
      sign_in(fitter)
      ready = fitted_visit(clinic, fitter)
      patient = ready.fitting.patient
      page.current_window.resize_to(width, height)
      %w[order measure size fit teach hand-over recheck record].each do |stage|
        visit "/visits/#{ready.id}/#{stage}"
        cut = page.evaluate_script(<<~JS)
          Array.from(document.querySelectorAll(".who > *")).filter((part) => {
            const box = part.getBoundingClientRect();
            const inline = getComputedStyle(part).display === "inline";
            return box.width === 0 || part.scrollWidth > part.clientWidth + 1 && !inline ||
              box.left < 0 || box.right > innerWidth || box.top < 0;
          }).map((part) => part.textContent)
        JS
        expect([stage, cut]).to eq [stage, []]
        born = Handrail::Quantity::Day.write(patient.born_on)
        expect(page.find(".who").text).to include(
          patient.name,
          born,
          patient.record_number,
          "left knee unloader, inner side"
        )
        expect(page).to have_link("Catalogue").and have_link("Our tapes")
      end
    ensure
      page.current_window.resize_to(1280, 800)
    end
  end

  it "keeps what was typed in an order through a reload" do
    sign_in(fitter)
    patient = make_patient(clinic, fitter)
    visit "/patients/#{patient.id}/orders/new?family=knee_unloader"
    fill("#prescriber", "Dr Unfinished")
    visit "/patients/#{patient.id}/orders/new?family=knee_unloader"
    expect(page).to have_field("prescriber", with: "Dr Unfinished")
    expect(page).to have_content("Typed here before and not saved yet")
  end

  it "fires single keys in an empty reading field, never while text is typed" do
    bench
    keys("u")
    expect(page).to have_css(".strip .unit", text: "in")
    keys("14 3/8u")
    expect(field.value).to eq "14 3/8u"
    expect(page).to have_css(".strip .unit", text: "in")
    page.execute_script("document.getElementById('value').value = ''")
    keys("?")
    expect(page).to have_css("dialog[open]", text: "the other unit")
  end

  it "signs by finger or mouse and keeps the strokes" do
    fitted = fitted_visit(clinic, fitter)
    teach(fitted, fitter)
    sign_in(fitter)
    visit "/visits/#{fitted.id}/hand-over"
    page.execute_script("document.getElementById('pad').scrollIntoView({ block: 'center' })")
    box =
      page.evaluate_script(
        "(({x, y}) => [x, y])(document.getElementById('pad').getBoundingClientRect())"
      )
    mouse = page.driver.browser.mouse
    mouse.move(x: box[0] + 20, y: box[1] + 60).down
    mouse.move(x: box[0] + 120, y: box[1] + 30, steps: 5).up
    click_button "Hand over"
    expect(page).to have_css("h1", text: "Handed over")
    expect(record(fitted).hand_over[:signature]).to match(/\AM \d+ \d+( L \d+ \d+)+\z/)
  end
end

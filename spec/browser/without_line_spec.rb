# frozen_string_literal: true

require "browser_helper"
require_relative "../support/faulty_line"
require_relative "../support/whole_jobs"

# Without a line the page goes on as the fitter does; what was entered waits, each at its own place, and is
# sent once, in its order, with the hour at which it was made.
RSpec.describe "Without a line" do
  include WholeJobs
  include_context "with a faulty line"

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:fitting_visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }

  # a page with what comes next fetched ahead
  def bench(path = "measure", of: fitting_visit)
    sign_in(fitter)
    visit "/visits/#{of.id}/#{path}"
    wait_until { page.evaluate_script("navigator.serviceWorker.controller !== null") }
    wait_until { kept_pages.any? { |kept| kept.start_with?("/visits/#{of.id}/ahead/#{path}") } }
  end

  # as where the machine says that its network is there again
  def line_is_back
    line.is(:good)
    page.execute_script("window.dispatchEvent(new Event('online'))")
  end

  def kept_pages = rows_here("pages").map { |row| row["path"] }

  # what lies in this browser in clear
  def rows_here(store)
    page.evaluate_async_script(<<~JS, store)
      const [store, done] = arguments;
      const open = indexedDB.open("handrail");
      open.onsuccess = () => {
        const asked = open.result.transaction(store).objectStore(store).getAll();
        asked.onsuccess = () => {
          open.result.close();
          done(asked.result.map(({ sealed, files, ...clear }) => clear));
        };
      };
    JS
  end

  def readings(of = fitting_visit) =
    record(of).rows(:readings).map { |row| [row[:site], row[:typed]] }
  def at_site = page.find(".sites .is-current .site-name").text

  it "goes on from site to site, and sends each reading once to its own" do
    bench
    line.is(:down)
    first = at_site
    keys("36.5", :enter)
    expect(page).to have_css(".sites li:not(.is-current) .waits", text: /36\.5 cm not saved yet/)
    expect(at_site).not_to eq first
    expect(page.evaluate_script("document.activeElement.id")).to eq "value"
    keys("38.2", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(2\)/)
    line.is(:down, only: %r{POST| /line})
    visit "/visits/#{fitting_visit.id}/order"
    expect(page).to have_css("#unsaved", text: /#{fitting_visit.fitting.patient.record_number}/)
    expect(page).to have_css("#unsaved li", text: /left knee unloader/)
    line_is_back
    wait_until { readings.size == 2 }
    expect(page).to have_no_css("#unsaved", visible: true)
    sites = record(fitting_visit).needs.first(2).map { |item| item.site.key }
    expect(readings).to eq sites.zip(%w[36.5 38.2])
    expect(page).to have_no_css(".waits")
  end

  it "never files what is typed ahead of an answer where the last one was" do
    bench
    first = at_site
    line.is(:delays, only: /readings/, seconds: 1)
    keys("36.5", :enter, "36.5", :enter)
    wait_until { readings.size == 2 }
    sites = record(fitting_visit).needs.first(2).map { |item| item.site.key }
    expect(readings).to eq sites.zip(%w[36.5 36.5])
    expect(at_site).not_to eq first
  end

  it "says no more of what was refused, once another waits in its place" do
    bench
    keys("thirty", :enter)
    expect(page).to have_css("#fault", text: /thirty/)
    line.is(:down)
    page.execute_script("document.getElementById('value').select()")
    keys("36.5", :enter)
    expect(page).to have_css(".sites .waits", text: /36\.5 cm not saved yet/)
    expect(page).to have_no_css("#fault, .has-fault, [aria-invalid], [aria-describedby=fault]")
    expect(page).to have_field("value", with: "")
    line_is_back
    wait_until { readings.map(&:last) == %w[36.5] }
  end

  it "lets what waits be changed and be taken back" do
    bench
    line.is(:down)
    keys("36.5", :enter)
    keys("38.2", :enter)
    within(page.all(".sites li")[0]) { click_on "Change" }
    expect(page).to have_field("value", with: "36.5")
    page.execute_script("document.getElementById('value').select()")
    keys("35.9", :enter)
    expect(page).to have_css(".sites .waits", text: /35\.9 cm/)
    within(page.all(".sites li")[1]) { click_on "Take back" }
    expect(page).to have_no_css(".waits", text: "38.2 cm")
    line_is_back
    wait_until { readings.map(&:last) == %w[35.9] }
    expect(page).to have_no_css("#unsaved", visible: true)
    expect(readings.map(&:last)).to eq %w[35.9]
  end

  it "says where a reading had arrived that was taken back" do
    bench
    line.is(:drops_answers, only: /readings/)
    keys("36.5", :enter)
    wait_until { readings.size == 1 }
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    line.is(:down)
    click_on "Take back"
    expect(page).to have_css("#unsaved", text: /whether it had arrived is asked/)
    line_is_back
    expect(page).to have_css("#unsaved", text: /it had arrived before: strike it out/)
    expect(readings.size).to eq 1
    click_on "I have dealt with it"
    expect(page).to have_no_css("#unsaved", visible: true)
  end

  it "goes through checks and steps, the last answer to a check standing for it" do
    job = sized_job("knee_unloader", make_product(clinic))
    bench("fit", of: job)
    line.is(:down)
    keys(:space)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    expect(page).to have_css(".step-count", text: "step 2 of")
    check = -> { page.all(".checks li.is-current .check-title span").first.text }
    first = check.call
    page.find(".checks .answer [name=value]").set("3")
    click_button "Take"
    expect(page).to have_css(
      ".checks .waits",
      text: /3 not saved yet; judged when the line is back/
    )
    expect(check.call).not_to eq first
    page.all(".checks .waits button", text: "Change").first.click
    expect(check.call).to eq first
    page.find(".checks .answer [name=value]").set("4")
    click_button "Take"
    expect(page).to have_css(".checks .waits", text: /4 not saved yet/)
    expect(page.all(".checks .waits").size).to eq 1
  end

  it "opens the bench after a reload, says of when it is, and keeps what is entered there" do
    bench
    line.is(:down)
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css("#kept-page", text: /No line: this is the page as it was at/)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css(".sites .waits", text: "36.5 cm")
    keys("38.2", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(2\)/)
    visit "/patients"
    expect(page).to have_css("h1", text: "No line to the server")
    line.is(:good)
    visit "/"
    wait_until { readings.size == 2 }
  end

  it "keeps both hours, of making and of arriving" do
    bench
    line.is(:down)
    before = Time.now
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    after = Time.now
    sleep 3
    line.is(:good)
    click_on "Try now"
    wait_until { readings.size == 1 }
    entry = record(fitting_visit).events.last
    expect(entry[:made_at]).to be_between(before - 2, after + 1)
    expect(entry[:at]).to be > after + 2
    expect(record(fitting_visit).rows(:readings).last[:at]).to eq entry[:made_at]
  end

  it "leaves what waits at a sign-out to its owner: unread by the next person, who is told that there is something" do
    bench
    line.is(:down)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    line.is(:down, only: %r{ /(line|visits)})
    click_on "Sign out"
    expect(page).to have_css("dialog", text: /#{fitting_visit.fitting.patient.record_number}: 1/)
    click_on "Leave them for me"
    expect(page).to have_css("#waiting", text: "1 entry waits on this machine")
    expect(kept_pages).to be_empty
    expect(rows_here("keys")).to be_empty
    expect(rows_here("entries").to_s).not_to match(
      /36\.5|#{fitting_visit.fitting.patient.family_name}/
    )
    line.is(:good)
    sign_in(make_account(clinic))
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css(
      "#unsaved",
      text: /something waits for this fitting that a colleague entered/
    )
    expect(page).to have_no_text("36.5")
    page.driver.clear_cookies
    sign_in(fitter)
    wait_until { readings.size == 1 }
  end

  it "tells every tab what another has sent" do
    bench
    line.is(:down)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    first = page.current_window
    page.switch_to_window(page.open_new_window)
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css(".waits", text: "36.5 cm")
    line_is_back
    wait_until { readings.size == 1 }
    expect(page).to have_no_css(".waits")
    page.switch_to_window(first)
    expect(page).to have_no_css("#unsaved", visible: true)
    expect(page).to have_css(".sites .value", text: "36.5")
  end

  it "sends nothing by a script of another build than the server's, and nothing is lost by the change" do
    bench
    line.is(:down)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    expect(axe).to be_empty
    allow(Handrail::Web::Assets).to receive(:build).and_return("0123456789ab")
    line_is_back
    expect(page).to have_css("#unsaved", text: /Handrail was renewed. Load this page again/)
    expect(readings).to be_empty
    click_on "Load it again"
    wait_until { readings.size == 1 }
    expect(page).to have_no_css("#unsaved", visible: true)
  end

  it "names each way in which an entry is not taken, and the way on" do
    bench
    line.is(:down)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    take(fitting_visit, make_account(clinic), "36.2")
    line_is_back
    expect(page).to have_css("#unsaved", text: /Not taken: .*36\.2 cm/m)
    visit "/"
    expect(page).to have_css("#unsaved a", text: "Open that visit")
    click_on "Put it in its form again"
    expect(page).to have_field("value", with: "36.5")
    keys(:enter)
    wait_until { readings.map(&:last) == %w[36.2 36.5] }
    expect(page).to have_no_css("#unsaved", visible: true)
  end

  it "says that an entry can not be opened any more, where the account's key is another one" do
    bench
    line.is(:down)
    keys("36.5", :enter)
    expect(page).to have_css(".waits", text: "36.5 cm")
    line.is(:down, only: %r{POST /visits| /line})
    click_on "Sign out"
    click_on "Leave them for me"
    expect(page).to have_css("#waiting", text: "1 entry waits")
    Handrail::Store.db[:browser_keys].where(account_id: fitter.id).delete
    line.is(:good)
    sign_in(fitter)
    expect(page).to have_css("#unsaved", text: /One entry of yours can not be opened any more/)
    click_on "I have dealt with it"
    expect(page).to have_no_css("#unsaved", visible: true)
    expect(readings).to be_empty
  end

  it "notes a place on the skin as it was tapped" do
    bench
    visit "/visits/#{fitting_visit.id}/skin"
    line.is(:down)
    # something waits already: the page knows that there is no line
    page.find_by_id("word-wants").set("to walk to the pier")
    click_on "Write what they say"
    expect(page).to have_css(".word-form .waits", text: /to walk to the pier not saved yet/)
    page.find("svg.figure").click
    expect(page).to have_css("h2", text: "What is at the place you tapped")
    page.find("#skin-new label", text: /blister/i).click
    within("#skin-new") { click_on "Write it down" }
    expect(page).to have_css("#skin-new .waits", text: /blister.* judged when the line is back/i)
    line_is_back
    wait_until { record(fitting_visit).rows(:skin_findings).size == 1 }
    expect(record(fitting_visit).safety.stops.map(&:key)).to include(/\Askin:/)
    expect(page).to have_css(".stop-sign, .stop", minimum: 1)
  end

  it "shows every word of a note that waits, beside the field" do
    bench
    visit "/visits/#{fitting_visit.id}/record"
    line.is(:down)
    page.find_by_id("text").set("Walks to the pier.\nHeel rubs.")
    click_on "Add the note"
    expect(page).to have_css(
      "#note-form .waits",
      text: "Walks to the pier. Heel rubs. not saved yet"
    )
    page.find_by_id("text").set("long " * 60)
    click_on "Add the note"
    expect(page).to have_css(
      "#note-form .waits",
      text: "#{(["long"] * 60).join(" ")} not saved yet"
    )
    # above another page as much as tells what it is
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css("#unsaved li", text: /Note: (long ){24}…/)
    line_is_back
    wait_until { record(fitting_visit).rows(:visit_notes).size == 2 }
  end

  it "keeps a photo that can not be sent" do
    bench
    visit "/visits/#{fitting_visit.id}/skin"
    line.is(:down)
    page.attach_file("photo-file", photo)
    page.find_by_id("photo-what").set("Both knees")
    click_on "Keep the photo"
    expect(page).to have_css(".photo-form .waits", text: /Both knees/)
    line_is_back
    wait_until { record(fitting_visit).body.photos.size == 1 }
    expect(record(fitting_visit).body.photos.first[:what]).to eq "Both knees"
  end

  it "sends an order without a line nowhere, and keeps what was typed" do
    bench
    patient = fitting_visit.fitting.patient
    visit "/patients/#{patient.id}/orders/new?family=knee_unloader"
    fill("#prescriber", "Dr Unsent")
    line.is(:down)
    page.find("button", text: "Write the order").click
    expect(page).to have_css("#what-happened", text: /was not sent, or its answer was lost/)
    line.is(:good)
    visit "/patients/#{patient.id}/orders/new?family=knee_unloader"
    expect(page).to have_field("prescriber", with: "Dr Unsent")
  end
end

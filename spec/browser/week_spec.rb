# frozen_string_literal: true

require "browser_helper"

# Planning by hand and by key, a clash, and pages that follow what colleagues write.
RSpec.describe "The weeks, and what colleagues write" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:colleague) { make_account(clinic) }
  let(:monday) { clinic.today + 7 + ((1 - clinic.today.wday) % 7) }
  let(:planned) { make_visit(clinic, fitter) }

  def book(visit, time, day: monday, by: colleague, **more)
    run(visit, by, :BookVisit, day: day.iso8601, time: time, **more)
  end

  def when_booked(visit) =
    clinic.zone.to_local(visit.refresh.planned_for.getutc).strftime("%a %H:%M")

  def week
    sign_in(fitter)
    visit "/week?on=#{monday.iso8601}"
    expect(page).to have_css(".booked[data-visit]")
  end

  it "moves a visit by key, to another quarter and another day, or leaves it" do
    book(planned, "09:00")
    week
    expect(axe).to be_empty
    tab_to(".booked a")
    keys("m", :down, :right, :escape)
    expect(page).to have_css("#moving", text: "It stays where it was")
    keys("m", :down, :down, :right)
    expect(page).to have_css("#moving", text: /Tue.*09:30/)
    keys(:enter)
    expect(page).to have_css("section.lane:nth-of-type(2) .booked", text: "09:30")
    expect(when_booked(planned)).to eq "Tue 09:30"
  end

  it "moves a visit by hand, and a click that was no drag opens its booking" do
    book(planned, "09:00")
    week
    from = rect(".booked a")
    lane = rect("section.lane:nth-of-type(3) [data-lane]")
    mouse = page.driver.browser.mouse
    mouse.move(x: from["x"] + 4, y: from["y"] + 4)
    mouse.down
    mouse.move(x: lane["x"] + 40, y: from["y"] + 70, steps: 6)
    mouse.up
    expect(page).to have_css("section.lane:nth-of-type(3) .booked", text: "10:00")
    expect(when_booked(planned)).to eq "Wed 10:00"
    find(".booked a").click
    expect(page).to have_css("h1", text: "Move the visit")
  end

  def rect(selector)
    page.evaluate_script(
      "(({x, y}) => ({x, y}))(document.querySelector('#{selector}').getBoundingClientRect())"
    )
  end

  it "keeps a time that was typed through a page that was lost, until it is booked" do
    planned
    sign_in(fitter)
    visit "/visits/#{planned.id}/book"
    fill_in "day", with: Handrail::Quantity::Day.write(monday)
    fill_in "time", with: "10:20"
    select fitter.name, from: "with"
    visit "/"
    visit "/visits/#{planned.id}/book"
    expect(page).to have_css(".draft-note", text: "not saved yet")
    expect([find("#day").value, find("#time").value]).to eq [
         Handrail::Quantity::Day.write(monday),
         "10:20"
       ]
    expect(find("#with").value).to eq fitter.id.to_s
    click_button "Book it"
    expect(page).to have_no_button("Book it")
    visit "/visits/#{planned.id}/book"
    expect(page).to have_no_css(".draft-note")
    fill_in "time", with: "11:00"
    first(".openings .button").click
    expect(page).to have_no_css(".openings")
    visit "/visits/#{planned.id}/book"
    expect(page).to have_no_css(".draft-note")
  end

  it "says who is there already, and keeps the time that was meant" do
    book(planned, "09:00", with: fitter.id)
    book(make_visit(clinic, fitter), "11:00", with: fitter.id)
    week
    tab_to(".booked a")
    keys("m", *([:down] * 6), :enter)
    expect(page).to have_css("[role=alert]", text: /#{fitter.name} is taken from 11:00 to 12:00/)
    expect(page).to have_field("time", with: "10:30")
    expect(when_booked(planned)).to eq "Mon 09:00"
    fill_in "time", with: "13:00"
    click_button "Move it"
    expect(page).to have_css(".booked", text: "13:00")
  end

  it "follows a colleague on the board by itself, and keeps the place" do
    book(planned, "23:40", day: clinic.today, by: fitter, minutes: "15", anyway: "yes")
    sign_in(fitter)
    visit "/"
    expect(page).to have_css("h1", text: "Today, one visit")
    tab_to(".visit .patient")
    here = page.evaluate_script("document.activeElement.getAttribute('href')")
    await_live
    book(make_visit(clinic, fitter), "23:20", day: clinic.today, minutes: "15", anyway: "yes")
    expect(page).to have_css("h1", text: "Today, two visits")
    expect(page.evaluate_script("document.activeElement.getAttribute('href')")).to eq here
  end

  it "tells a fitter who is typing that somebody wrote, and leaves what is typed" do
    ask(planned, fitter)
    sign_in(fitter)
    visit "/visits/#{planned.id}/measure"
    await_live
    fill_in "value", with: "36.4"
    run(planned, colleague, :AddNote, text: "came with a stick")
    expect(page).to have_css("#written", text: "Somebody has written at this visit meanwhile")
    expect(page).to have_field("value", with: "36.4")
    # what the page itself writes is no news to it
    visit "/visits/#{planned.id}/measure"
    await_live
    fill_in "value", with: "36.4"
    keys(:enter)
    expect(page).to have_css(".sites", text: "36.4")
    sleep 1
    expect(page).to have_css("#written", visible: :hidden)
  end

  # until this page waits for events
  def await_live
    50.times do
      return if Handrail::Web::Live::CROWD.size.positive?

      sleep 0.1
    end
    raise "no page waits"
  end
end

RSpec.describe "Lists as CSV" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  # the text of the file that the button makes; with: what is given where the password is asked for
  def saved(with: nil)
    page.execute_script(<<~JS)
      URL.createObjectURL = (blob) => { blob.text().then((text) => { window.savedText = text; }); return "#"; };
    JS
    click_button "This table as CSV"
    if with
      fill_in "Your password, once more", with: "not it"
      click_button "Save the list"
      expect(page).to have_text("This is not your password.")
      expect(page.evaluate_script("window.savedText")).to be_nil
      fill_in "Your password, once more", with: with
      click_button "Save the list"
    end
    50.times do
      text = page.evaluate_script("window.savedText")
      return text if text

      sleep 0.1
    end
    raise "no file was made"
  end

  it "writes what is on the screen, and nothing that a spreadsheet would run" do
    number = ->(text) { "#{text} #{SecureRandom.hex(3)}" }
    make_patient(
      clinic,
      fitter,
      given_name: "=1+1",
      family_name: "Quarrel, \"Q\"",
      record_number: number["@A"]
    )
    sign_in(fitter)
    visit "/patients"
    rows = CSV.parse(saved, headers: true)
    expect(rows.headers).to eq %w[Name Born Record Owner]
    expect(rows.first["Name"]).to eq %('=1+1 Quarrel, "Q")
    expect(rows.first["Record"]).to start_with "'@A"
  end

  it "asks who sits there before a list leaves, once the password is ten minutes old" do
    make_patient(clinic, fitter)
    sign_in(fitter)
    visit "/patients"
    stub_const("Handrail::Web::Base::CONFIRMED_SECONDS", 0)
    expect(saved(with: Fixtures::PASSWORD)).to include "Quarrel"
  end
end

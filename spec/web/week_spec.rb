# frozen_string_literal: true

require "web_helper"
require "nokogiri"

RSpec.describe "The weeks", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter) }
  # a Monday
  let(:monday) { clinic.today + 7 + ((1 - clinic.today.wday) % 7) }

  before do
    clinic.update(choices: Handrail::Store.json("rooms" => "Blue\nRed"))
    sign_in(fitter)
  end

  def book(visit, **how)
    send_form(
      "/visits/#{visit.id}/book",
      from: "/visits/#{visit.id}/book",
      day: monday.iso8601,
      **how
    )
  end

  def week =
    Handrail::Web::WeekPage.of_week(
      Handrail::Store::Planning.new(clinic),
      monday,
      today: clinic.today
    )

  it "shows what is booked, where it lies on the tape of the day" do
    book(visit, time: "09:30", with: fitter.id, room: "Blue")
    get "/week?on=#{monday.iso8601}"
    expect(text).to match(/Week of.*09:30 #{visit.fitting.patient.name}.*Blue/)
    block = week.lanes.first.blocks.first
    expect([week.from, block.row, block.rows, block.column, block.columns]).to eq [540, 6, 12, 0, 1]
    get "/week/day?on=#{monday.iso8601}"
    expect(text).to include(fitter.name, "nobody yet")
    get "/week?on=#{(monday - 7).iso8601}"
    expect(text).to include("Nothing is booked here.")
  end

  it "shows a visit that was booked and is closed, with the way to its record" do
    book(visit, time: "09:30")
    done = store_closed(visit)
    get "/week?on=#{monday.iso8601}"
    expect([last_response.status, html]).to match [200, %r{href="/visits/#{done.id}/record"}]
    get "/week/day?on=#{monday.iso8601}"
    expect(last_response.status).to eq 200
  end

  # the visit taken to its end, as it was booked
  def store_closed(visit)
    ask(visit, fitter)
    2.times { take(visit, fitter, "36.5") }
    run(visit, fitter, :ChooseSize, size: "M")
    run(visit, fitter, :IssueDevice, serial: "S-1")
    finish_steps(visit, fitter)
    look_at_all(visit, fitter)
    teach(visit, fitter)
    hand_over(visit, fitter)
    visit
  end

  it "shows what goes on after midnight to the end of its day" do
    book(visit, time: "23:30", anyway: "yes")
    expect((visit.refresh.planned_to - visit.planned_for) / 60).to eq 60
    %w[/week /week/day].each do |path|
      get "#{path}?on=#{monday.iso8601}"
      expect([path, last_response.status, text]).to match [path, 200, /23:30/]
    end
    block = week.lanes.first.blocks.first
    expect([week.to, block.row + block.rows]).to eq [24 * 60, week.rows]
  end

  it "lays side by side what meets, and gives what does not the whole lane" do
    others = Array.new(2) { make_visit(clinic, fitter) }
    book(visit, time: "09:00")
    book(others[0], time: "09:30")
    book(others[1], time: "11:00")
    laid = week.lanes.first.blocks.map { |one| [one.booked.id, one.column, one.columns] }
    expect(laid).to eq [[visit.id, 0, 2], [others[0].id, 1, 2], [others[1].id, 0, 1]]
  end

  it "says of a week how many have no room beside the others, and shows all of them on their day" do
    others = Array.new(5) { make_visit(clinic, fitter) }
    others.each { |one| book(one, time: "09:00", anyway: "yes") }
    book(visit, time: "15:00")
    lane = week.lanes.first
    expect(lane.blocks.map { |one| one.booked.id }).to eq [*others.first(3).map(&:id), visit.id]
    expect(lane.blocks.map { |one| [one.column, one.columns] }).to eq [
         [0, 4],
         [1, 4],
         [2, 4],
         [0, 1]
       ]
    expect(lane.more).to eq [[0, 12, 2]]
    get "/week", on: monday.iso8601
    expect(text).to include "2 more"
    get "/week/day", on: monday.iso8601
    expect(last_response.body.scan(/data-visit="(\d+)"/).flatten.map(&:to_i)).to match_array(
      [*others, visit].map(&:id)
    )
  end

  it "hides a weekend on which nobody works, unless something is booked on it" do
    clinic.update(choices: Handrail::Store.json("hours_mon" => "08:00-18:30"))
    expect(week.days.map(&:wday)).to eq [1, 2, 3, 4, 5]
    expect([week.from, week.to]).to eq [8 * 60, 19 * 60]
    book(visit, time: "09:00", day: (monday + 5).iso8601, anyway: "yes")
    expect(week.days.map(&:wday)).to eq [1, 2, 3, 4, 5, 6]
  end

  it "shows a whole week for any day in it, and today for what is no day" do
    get "/week?on=#{(monday + 3).iso8601}"
    expect(text).to include("Week of #{Handrail::Quantity::Day.write(monday)}")
    get "/week?on=nonsense"
    expect(last_response.status).to eq 200
    get "/week?on[]=1&who=7777777777777777777777"
    expect(last_response.status).to eq 200
    # a year that the database does not know, and days beside it
    days = %w[0000-01-01 0001-01-01 9999-12-31].product(%w[/week /week/day])
    codes = days.map { |on, path| get("#{path}?on=#{on}").status }
    expect(codes.uniq).to eq [200]
  end

  it "proposes free times, books one by one tap, and goes back where it came from" do
    get "/visits/#{visit.id}/book"
    expect(last_response.body).to include("Free times", %(name="with" value="#{fitter.id}"))
    book(visit, time: "09:00", back: "/week?on=#{monday.iso8601}")
    expect(last_response.headers["location"]).to eq "/week?on=#{monday.iso8601}"
    book(visit, time: "10:00", back: "//elsewhere.example")
    expect(last_response.headers["location"]).to eq "/"
  end

  it "keeps what was typed where a time is taken, and says by whom" do
    book(visit, time: "09:00", with: fitter.id, room: "Red")
    second = make_visit(clinic, fitter)
    book(second, time: "09:30", with: fitter.id, room: "Blue", minutes: "40")
    expect(last_response.status).to eq 422
    expect(last_response.body).to include(
      'value="09:30"',
      'value="40"',
      "<option selected>Blue</option>"
    )
    expect(text).to match(/#{fitter.name} is taken from 09:00 to 10:00/)
    book(second, time: "07:00", day: (clinic.today - 3).iso8601)
    expect(text).to match(/That day has passed.*Book it all the same/)
  end

  it "writes that nobody came, and goes on asking for the visit" do
    Handrail::Store.at(Time.now - 86_400) do
      book(visit, time: "09:00", day: clinic.today.iso8601, anyway: "yes")
    end
    visit.refresh
    Handrail::Store.at(visit.planned_for + 60) do
      send_form(
        "/visits/#{visit.id}/miss",
        from: "/visits/#{visit.id}/book",
        why: "no_show",
        note: "no answer"
      )
    end
    expect(visit.refresh.planned_for).to be_nil
    get "/visits/#{visit.id}/book"
    expect(text).to match(/Did not come on .*: no answer/)
    get "/"
    expect(text).to match(/Slipping away.*#{visit.fitting.patient.name}.*no visit booked/)
  end

  it "lets the front desk plan, and see no more of a device than its kind" do
    book(visit, time: "09:00", with: fitter.id)
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "/week?on=#{monday.iso8601}"
    expect(text).to include("knee", visit.fitting.patient.name)
    expect(text).not_to include("inner side")
    book(visit, time: "10:00")
    expect(last_response.status).to eq 303
    get "/week/outbox"
    expect(text).to match(/your visit was moved.*your appointment is on/m)
  end

  it "knows nothing of another clinic's visits" do
    book(visit, time: "09:00", with: fitter.id)
    stranger = make_account(make_clinic)
    sign_out
    sign_in(stranger)
    get "/week?on=#{monday.iso8601}"
    expect(text).not_to include(visit.fitting.patient.family_name)
    post "/visits/#{visit.id}/miss", "why" => "cancelled", "authenticity_token" => "x"
    expect(last_response.status).to be >= 400
    get "/week/outbox"
    expect(text).not_to include(visit.fitting.patient.family_name)
  end
end

RSpec.describe "Hours and closed days", :rolled_back do
  let(:clinic) { make_clinic }
  let(:senior) { make_account(clinic, "senior") }
  let(:fitter) { make_account(clinic) }

  calendar = <<~ICS
    BEGIN:VCALENDAR
    VERSION:2.0
    PRODID:-//Spec//EN
    BEGIN:VEVENT
    UID:1
    DTSTAMP:20261101T000000Z
    DTSTART;VALUE=DATE:20261225
    DTEND;VALUE=DATE:20261227
    SUMMARY:Midwinter
    END:VEVENT
    BEGIN:VEVENT
    UID:2
    DTSTAMP:20261101T000000Z
    DTSTART;VALUE=DATE:20270101
    SUMMARY:New year
    END:VEVENT
    BEGIN:VEVENT
    UID:3
    DTSTAMP:20261101T000000Z
    DTSTART:20270110T090000Z
    DTEND:20270110T100000Z
    SUMMARY:A talk
    END:VEVENT
    END:VCALENDAR
  ICS

  def upload(text, type = "text/calendar")
    file = Tempfile.new("days").tap { |one| one.write(text) && one.rewind }
    get "/settings"
    token = last_response.body[/name="authenticity_token" value="([^"]+)"/, 1]
    post "/settings/closed-days",
         "authenticity_token" => token,
         "calendar" => Rack::Test::UploadedFile.new(file.path, type)
  end

  it "reads closed days from a calendar into the form, and keeps them only when they are saved" do
    sign_in(senior)
    upload(calendar.gsub("\n", "\r\n"))
    expect(text).to include("two entries", "1 at a time of day left out")
    expect(last_response.body).to include("25 Dec 2026 to 26 Dec 2026\n1 Jan 2027")
    expect(clinic.refresh.choices_made.closed_days).to be_empty
    submit_settings("choices[closed_days]": "25 Dec 2026 to 26 Dec 2026\n1 Jan 2027")
    expect(clinic.refresh.choices_made.closed_days.map(&:iso8601)).to eq %w[
         2026-12-25
         2026-12-26
         2027-01-01
       ]
  end

  def submit_settings(**more)
    get "/settings/hours"
    page = Nokogiri.HTML(last_response.body)
    fields =
      page
        .css("#settings-form input:not([type=checkbox]), #settings-form textarea")
        .to_h { |one| [one["name"], one["value"] || one.text] }
    selects =
      page
        .css("#settings-form select")
        .to_h { |one| [one["name"], one.at("option[selected]")&.[]("value")] }
    post "/settings/hours", fields.merge(selects).merge(more.transform_keys(&:to_s))
  end

  it "writes out the next years of a day that comes again, and leaves out those that do not" do
    yearly = calendar.sub("SUMMARY:New year", "RRULE:FREQ=YEARLY\nEXDATE;VALUE=DATE:20280101")
    read =
      Handrail::Exchange::ClosedDays.read(yearly.gsub("\n", "\r\n"), today: Date.new(2027, 5, 1))
    expect(read.lines).to eq ["25 Dec 2026 to 26 Dec 2026", "1 Jan 2027", "1 Jan 2029"]
    expect {
      Handrail::Exchange::ClosedDays.read(calendar.sub("UID:2", "RRULE:FREQ=NEVER"))
    }.to raise_error(Handrail::Exchange::ClosedDays::Unreadable, /comes again by a rule/)
  end

  it "reads its closed days once, however often it is asked" do
    clinic.update(choices: Handrail::Store.json("closed_days" => "25 Dec 2026 to 28 Dec 2026"))
    choices = clinic.choices_made
    expect(choices.closed_days.size).to eq 4
    allow(Handrail::Store::Choices).to receive(:days).and_raise("read again")
    expect(choices.shut(Date.new(2026, 12, 25), 9, 0)).to include "closed"
  end

  it "refuses what is no calendar, holds no whole day, or is nothing at all" do
    sign_in(senior)
    [
      "hello",
      "BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n",
      "\xFF\xFE",
      "BEGIN:VCALENDAR\nBEGIN:VEVENT\nDTSTART:nonsense"
    ].each do |text|
      upload(text)
      expect([text, last_response.status]).to eq [text, 422]
    end
    get "/settings"
    token = last_response.body[/name="authenticity_token" value="([^"]+)"/, 1]
    post "/settings/closed-days", "authenticity_token" => token
    expect(last_response.status).to eq 422
  end

  it "keeps own hours, and those of others for a senior alone" do
    sign_in(fitter)
    send_form("/me/hours", from: "/me", "hours[mon]": "09:00-13:00")
    expect(fitter.refresh.hours.to_h).to eq("mon" => "09:00-13:00")
    send_form("/me/hours", from: "/me", "hours[mon]": "nine")
    expect([last_response.status, last_response.body]).to match [422, /value="nine"/]
    get "/people/#{senior.id}/hours"
    expect(last_response.status).to eq 403
    sign_out
    sign_in(senior)
    send_form(
      "/people/#{fitter.id}/hours",
      from: "/people/#{fitter.id}/hours",
      "hours[tue]": "10:00-12:00"
    )
    expect(fitter.refresh.hours.to_h).to eq("tue" => "10:00-12:00")
    get "/people/#{make_account(make_clinic).id}/hours"
    expect(last_response.status).to eq 404
  end
end

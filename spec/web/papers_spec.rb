# frozen_string_literal: true

require "web_helper"
require "icalendar"
require "pdf-reader"
require "stringio"

# The wearer's sheet, the record and the calendar, as they leave the house.
RSpec.describe "Papers of a visit", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { fitted_visit(clinic, fitter) }
  let(:base) { "/visits/#{visit.id}" }

  before { sign_in(fitter) }

  def pdf(path)
    get path
    expect(last_response.headers["content-type"]).to eq "application/pdf"
    PDF::Reader.new(StringIO.new(last_response.body))
  end

  def words(reader) = reader.pages.map(&:text).join(" ").gsub(/\s+/, " ")

  def give(**more)
    teach(visit, fitter)
    plan = { "plan[start]" => "2", "plan[add]" => "1", "plan[every]" => "2", "plan[most]" => "5" }
    get "#{base}/hand-over"
    asked = last_response.body.scan(/name="(statements\[\d\])" value="([^"]*)"/)
    asked = asked.to_h { |name, words| [name.to_sym, CGI.unescapeHTML(words)] }
    send_form(
      "#{base}/hand-over",
      from: "#{base}/hand-over",
      start_hours: "2 hours",
      signed_name: "Wilma",
      **plan.transform_keys(&:to_sym),
      **asked,
      **more
    )
  end

  it "is in the wearer's own language, and in the other on a click" do
    Handrail::Store.db[:patients].where(id: visit.fitting.patient_id).update(language: "de")
    get "#{base}/sheet"
    expect(html).to include('lang="de"')
    expect(text).to include(
      "Ihr Hilfsmittel: Knieentlastungsorthese, links, Innenseite",
      "Zuerst das Wadenband"
    )
    get "#{base}/sheet?in=en"
    expect(text).to include("Your knee unloader, left, inner side", "Calf strap first")
    ["xx", "../de", ""].each { |key| expect(get("#{base}/sheet?in=#{key}").status).to eq 200 }
  end

  it "has no word of English in its German, but for names and figures" do
    clinic.update(choices: Handrail::Store.json("like_years" => "3"))
    get "#{base}/sheet?in=de"
    sheet = html[%r{<main class="sheet".*</main>}].gsub(%r{<svg.*?</svg>}, " ").gsub(/<[^>]+>/, " ")
    expect(sheet.scan(/\b(?:the|and|with|your|wear|strap|skin|after|day|hours)\b/i)).to eq []
  end

  it "is four pages at most as PDF, in large type, with every step that matters" do
    reader = pdf("#{base}/sheet.pdf?in=de")
    expect(reader.pages.size).to be <= 4
    expect(words(reader)).to include(
      "Anlegen",
      "Zuerst das",
      "Wie oben ablegen und uns anrufen, wenn"
    )
    expect(pdf("#{base}/sheet.pdf?size=letter").pages.first.attributes[:MediaBox]).to eq [
         0,
         0,
         612,
         792
       ]
  end

  it "keeps the record with its digest at the hand-over, as it then stands" do
    give("initials[0]": "WQ", "initials[1]": "WQ", spares: "two liners")
    expect(last_response.status).to eq 303
    row = record(visit).rows(:papers).first
    reader = pdf("#{base}/papers/#{row[:id]}.pdf")
    expect(Digest::SHA256.hexdigest(last_response.body)).to eq row[:sha256]
    expect(reader.pages.size).to eq row[:pages]
    expect(words(reader)).to include(
      "First fitting: left knee unloader, inner side",
      "36.5 cm",
      "Slipped after 10 m walk: 3 mm",
      "I have received: Knee unloader, left, inner side. WQ",
      "With it: two liners",
      "Received by Wilma, not signed",
      "Identity confirmed by two identifiers. Stop signs: none. Take care: none."
    )
    expect(words(reader)).not_to include "Let pass, and stops"
    get "#{base}/hand-over"
    expect(text).to include row[:sha256]
    get "#{base}/record"
    expect(text).to include "Identity confirmed by two identifiers. Stop signs: none."
  end

  it "keeps in the record what was done about a stop, and what a senior let pass" do
    ask(visit, fitter, stops: %w[cold_toes])
    act = { stop: "cold_toes", action: "advised", who: "Dr Spec", advice: "warm again, go on" }
    run(visit, fitter, :RecordStopAction, **act)
    run(visit, make_account(clinic, "senior"), :LetPass, reason: "carer comes on Friday")
    send_form("#{base}/papers", from: "#{base}/record")
    found = words(pdf("#{base}/papers/#{record(visit).rows(:papers).last[:id]}.pdf"))
    expect(found).to match(
      /Let pass, and stops.*carer comes on Friday.*stop sign dealt with \(advice asked\), Dr Spec: warm again, go on/
    )
  end

  it "keeps in the record what was seen on the skin, each place as it was seen last" do
    spot = { x: "190", y: "333", side: "left" }
    run(
      visit,
      fitter,
      :RecordSkin,
      **spot,
      kind: "mark_fades",
      size: "12 mm",
      note: "under the strap"
    )
    place = record(visit).body.skin.last.id.to_s
    run(visit, fitter, :RecordSkin, follows: place, course: "smaller", size: "6 mm")
    send_form("#{base}/papers", from: "#{base}/record")
    found = words(pdf("#{base}/papers/#{record(visit).rows(:papers).last[:id]}.pdf"))
    expect(found).to match(/Skin .*[Mm]ark that fades, 6 mm, smaller/)
  end

  it "says on the wearer's sheet what the clinic says of the warranty" do
    clinic.update(choices: Handrail::Store.json("warranty" => "Two years on every hinge."))
    give("initials[0]": "WQ", "initials[1]": "WQ")
    expect(words(pdf("#{base}/sheet.pdf"))).to include "Two years on every hinge."
  end

  it "makes the same paper again until something is written, then another one" do
    give
    first = record(visit).rows(:papers).first
    3.times { send_form("#{base}/papers", from: "#{base}/record") }
    kept = record(visit).rows(:papers).select { |row| row[:kind] == "record" }
    expect(kept.map { |row| row[:sha256] }).to eq [first[:sha256]]
    before = record(visit).rows(:papers).size
    run(visit, fitter, :AddNote, text: "called back, all well")
    send_form("#{base}/papers", from: "#{base}/record")
    rows = record(visit).rows(:papers)
    expect(rows.size).to eq before + 1
    expect(words(pdf("#{base}/papers/#{rows.last[:id]}.pdf"))).to include "called back, all well"
  end

  it "gives the break-in and the next visit as a calendar that a telephone reads" do
    give
    get "#{base}/calendar.ics?in=de"
    calendar = Icalendar::Calendar.parse(last_response.body).first
    wear = calendar.events.select { |event| event.uid.start_with?("wear-") }
    today = clinic.today
    expect(
      wear.map { |event| [event.dtstart.to_date, event.dtend.to_date, event.summary.to_s] }
    ).to eq [
         [today, today + 2, "2 Stunden tragen: Knieentlastungsorthese, links, Innenseite"],
         [today + 2, today + 4, "3 Stunden tragen: Knieentlastungsorthese, links, Innenseite"],
         [today + 4, today + 6, "4 Stunden tragen: Knieentlastungsorthese, links, Innenseite"],
         [today + 6, today + 7, "5 Stunden tragen: Knieentlastungsorthese, links, Innenseite"]
       ]
    due = calendar.events.find { |event| event.uid.start_with?("due-") }
    expect(due.dtstart.to_date).to eq record(visit).wear.next_recheck.to
    expect(calendar.events.map(&:uid).uniq.size).to eq calendar.events.size
    expect(last_response.body).not_to include("arthrosis", "Quarrel")
  end

  it "has the booked visit in it at its time, whatever the clinic's zone" do
    give
    next_one = record(visit).visits.last
    day = clinic.today + 10
    run(next_one, fitter, :BookVisit, day: day.iso8601, time: "09:40")
    get "#{base}/calendar.ics"
    event =
      Icalendar::Calendar
        .parse(last_response.body)
        .first
        .events
        .find { |one| one.uid.start_with?("visit-") }
    local = clinic.zone.to_local(event.dtstart.to_time.getutc)
    expect([local.to_date, local.strftime("%H:%M")]).to eq [day, "09:40"]
  end

  it "tells a visit that was moved as the same one, later, and one that was called off as cancelled" do
    give
    later = record(visit).visits.last
    book = ->(hour) do
      run(later, fitter, :BookVisit, day: (clinic.today + 10).iso8601, time: hour, anyway: "yes")
    end
    read = -> do
      get "#{base}/calendar.ics"
      Icalendar::Calendar
        .parse(last_response.body)
        .first
        .events
        .find { |one| one.uid.start_with?("visit-") }
    end
    book.call("09:40")
    first = read.call
    book.call("11:00")
    moved = read.call
    expect(moved.uid).to eq first.uid
    expect(moved.uid).to end_with "@#{clinic.refresh.key}.handrail"
    expect([moved.sequence > first.sequence, moved.dtstamp >= first.dtstamp]).to eq [true, true]
    run(later, fitter, :MissVisit, why: "cancelled")
    gone = read.call
    expect([gone.uid, gone.status.to_s]).to eq [first.uid, "CANCELLED"]
    expect(gone.sequence).to be > moved.sequence
  end

  it "keeps no statement that the clinic does not ask, no dot for a signature, and no name that can not be seen" do
    give("statements[0]": "I give up every warranty.", "initials[0]": "WQ", "initials[1]": "WQ")
    expect([last_response.status, text]).to match [422, /statements have changed meanwhile/]
    ["M", "M 1 2", "M 1 2 L 1 2", "M 1 2 L 3"].each do |strokes|
      give(signature: strokes)
      expect([strokes, last_response.status, text]).to match [strokes, 422, /signature/]
    end
    give(signed_name: "\u200B\u2060")
    expect([last_response.status, text]).to match [422, /Write the name of the person who signs/]
    expect(record(visit).handed_over?).to be false
  end

  it "keeps what was typed of a hand-over that is refused, and says what is wrong" do
    give("plan[most]": "1", spares: "two liners", "initials[0]": "WQ")
    expect(last_response.status).to eq 422
    expect(html).to match(/value="two liners".*value="WQ"/)
    expect(text).to include "The most can not be less than the beginning."
  end

  it "is for the fitters of this clinic" do
    paths = %w[sheet sheet.pdf record.pdf calendar.ics].map { |name| "#{base}/#{name}" }
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    expect(paths.map { |path| get(path).status }).to all(eq 403)
    sign_out
    sign_in(make_account(make_clinic))
    expect(paths.map { |path| get(path).status }).to all(eq 404)
  end
end

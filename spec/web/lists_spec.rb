# frozen_string_literal: true

require "web_helper"
require "nokogiri"

# The lists of the board, each on a page of its own.
RSpec.describe "A list of the board", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:desk_person) { make_account(clinic, "front_desk") }
  let(:names) { Handrail::Wording.names("board").keys }

  # today at an hour of the clinic's
  def today(hour) = clinic.midnight(clinic.today) + (hour * 3600)

  def booked(hour, **how)
    make_visit(clinic, fitter, **how).tap { |visit| visit.update(planned_for: today(hour)) }
  end

  def rows
    page = Nokogiri.HTML(last_response.body)
    page
      .css("main tbody tr")
      .map do |row|
        act = row.at_css("td:last-child a")
        [act.text.strip, act["href"]] if act
      end
  end

  it "opens by each of its names, and by no other" do
    names.each do |name|
      sign_in(fitter)
      get "/list/#{name}"
      expect([name, last_response.status, text]).to match [name, 200, /Nobody is in this list/]
    end
    get "/list/nothing"
    expect(last_response.status).to eq 404
  end

  it "leads to what can be done: begun on its day, gone on with, read once it is closed, else moved" do
    waits, begun, closed, other = [9, 10, 11, 57].map { |hour| booked(hour) }
    ask(begun, fitter)
    closed.update(
      opened_at: today(11),
      closed_at: today(11),
      opened_by: fitter.id,
      closed_by: fitter.id
    )
    sign_in(fitter)
    get "/list/visits"
    expect(rows.map(&:last)).to contain_exactly(
      "/visits/#{waits.id}/order",
      "/visits/#{begun.id}/measure",
      "/visits/#{closed.id}/record"
    )
    get "/list/coming"
    expect(rows).to eq [["Move", "/visits/#{other.id}/book"]]
    sign_out
    sign_in(desk_person)
    get "/list/visits"
    expect(rows).to contain_exactly(
      ["Move", "/visits/#{waits.id}/book"],
      ["Move", "/visits/#{begun.id}/book"],
      nil
    )
  end

  it "goes on where it is long, back again, and says where it ends" do
    stub_const("Handrail::Store::Day::SHOWN", 2)
    3.times { |n| booked(9 + n) }
    sign_in(fitter)
    get "/list/visits"
    expect([rows.size, text]).to match [2, /Today, 3 .*After these/]
    get "/list/visits?from=2"
    expect([rows.size, text]).to match [1, /Today, 3 .*Before these/]
    expect(text).not_to include "After these"
    get "/list/visits?from=900"
    expect([rows, text]).to match [[], /Nobody is this far down the list.*Before these/]
    expect(last_response.body).to include 'href="?from=1"'
    get "/list/visits?from=many"
    expect(rows.size).to eq 2
  end

  it "says beside what should not wait for when a visit is booked, and moves or books it" do
    visit = make_visit(clinic, fitter)
    about = { clinic_id: clinic.id, fitting_id: visit.fitting_id, visit_id: visit.id }
    Handrail::Store.db[:fitting_dues].insert(
      kind: "skin",
      key: "7",
      label: "mark_fades",
      course: "same",
      due_on: clinic.today - 3,
      **about
    )
    asked = -> do
      get "/"
      place = Nokogiri.HTML(last_response.body).at_xpath("//h2[.='Not to wait']/following::li")
      [place.at_css("div > span").text, place.css("a").last.text, place.css("a").last["href"]]
    end
    sign_in(fitter)
    expect(asked.call).to match [/within two weeks\.\z/, "Book", "/visits/#{visit.id}/book"]
    visit.update(planned_for: clinic.moment(clinic.today + 20, 10, 0))
    said = /\. Booked for #{Handrail::Quantity::Day.write(clinic.today + 20)}\.\z/
    expect(asked.call).to match [said, "Move", "/visits/#{visit.id}/book"]
    visit.update(planned_for: clinic.moment(clinic.today - 1, 10, 0))
    expect(asked.call).to match [/\. It was booked for/, "Move", "/visits/#{visit.id}/book"]
    visit.update(opened_at: today(8), planned_for: nil)
    expect(asked.call).to match [/within two weeks\.\z/, "Look", "/visits/#{visit.id}/record"]
  end
end

# frozen_string_literal: true

require "web_helper"
require "nokogiri"

# Two devices of a pair are put on and looked at beside one another, each on its own.
RSpec.describe "A pair", :rolled_back do
  let(:clinic) { DEMO }
  let(:fitter) { Handrail::Store::Account.first(clinic_id: clinic.id, role: "fitter") }
  let(:visit) do
    wearer = Handrail::Store::Patient.first(clinic_id: clinic.id, family_name: "Kirchhof")
    Handrail::Store::Visit.first(fitting_id: wearer.fittings.map(&:id))
  end
  let(:check) { record(visit).fit.checklist("left").items.find { |item| !item.check.measured? } }
  let(:path) { "/visits/#{visit.id}/fit" }

  before { sign_in(fitter) }

  def page = Nokogiri.HTML(last_response.body)
  def twin = page.at_css(".twin-step")&.text.to_s.squeeze(" \n")
  def done(side) = record(visit).fit.applying(side).done.size

  it "shows the step of the other beside its own, and stays where it is when that one is done" do
    get "#{path}?side=left"
    expect(twin).to match(/Right.*step 1 of \d+.*Done on the right/m)
    first = record(visit).fit.applying("right").next
    send_form(
      "/visits/#{visit.id}/steps",
      from: "#{path}?side=left",
      side: "right",
      step: first.key,
      shown_side: "left"
    )
    expect([done("left"), done("right")]).to eq [0, 1]
    follow_redirect!
    expect(page.at_css(".sides .is-on").text).to eq "Left"
    expect(twin).to include("step 2 of")
  end

  it "shows what was seen of each check on both, and a failure on one is none of the other" do
    finish_steps(visit, fitter)
    run(visit, fitter, :RecordCheck, check: check.key, side: "left", outcome: "good")
    run(visit, fitter, :RecordCheck, check: check.key, side: "right", outcome: "bad")
    get "#{path}?side=left"
    row = page.at_css("#check-#{check.key}")
    expect(row.at_css(".check-value").text).to include "yes"
    expect(row.at_css(".check-twin").text).to match(/On the right:.*no/m)
    expect(row.at_css(".check-twin")["href"]).to include "side=right"
    expect(record(visit).fit.checklist("left").failed).to eq []
    expect(record(visit).fit.checklist("right").failed.map(&:key)).to eq [check.key]
  end

  it "is no pair where one device is ordered" do
    single = sized_visit(other = make_clinic, make_account(other))
    sign_out
    sign_in(make_account(other))
    get "/visits/#{single.id}/fit"
    expect(page.at_css(".checks")).not_to be_nil
    expect(page.css(".twin-step, .check-twin, .checks-sides")).to be_empty
  end
end

# frozen_string_literal: true

require "web_helper"
require "nokogiri"

# What the patient's page leads on to: the one visit that is open, where only one is; else a new order.
RSpec.describe "The patient's page leads on" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:worn) { handed_over_visit(clinic, fitter) }

  before { sign_in(fitter) }

  def onward =
    Nokogiri.HTML(html).css(".bar .is-primary").map { |one| [one.text.squeeze(" "), one["href"]] }

  it "to the recheck that waits, and to a new order where two devices are open" do
    later = record(worn).visits.last
    patient = record(worn).patient
    get "/patients/#{patient.id}"
    expect(onward).to eq [["Open recheck: knee unloader", "/visits/#{later.id}/recheck"]]
    make_visit(clinic, fitter, patient: patient, side: "right")
    get "/patients/#{patient.id}"
    expect(onward).to eq [["New order", "/patients/#{patient.id}/orders/new"]]
  end

  it "to a new order where somebody has died or moved away" do
    patient = record(worn).patient
    Handrail::Store::Patient.where(id: patient.id).update(
      rest: "moved_away",
      rest_on: "2026-11-20",
      rest_said: "her son"
    )
    get "/patients/#{patient.id}"
    expect(onward.to_s).not_to include("recheck")
  end
end

# frozen_string_literal: true

require "browser_helper"

RSpec.describe "Every screen, as axe-core sees it" do
  let(:demo) { DEMO }
  let(:senior) { Handrail::Store::Account.first(email: "ruth@heronquay.example") }

  def of(family_name, purpose = "first")
    patient = Handrail::Store::Patient.first(clinic_id: demo.id, family_name: family_name)
    Handrail::Store::Visit
      .where(purpose: purpose, fitting_id: patient.fittings_dataset.select(:id))
      .order(:id)
      .last
  end

  def clean(path)
    visit path
    expect(page).to have_css("h1")
    found = axe
    expect(found).to eq([]), "#{path}: #{found.join("\n")}"
  end

  it "has no violation before signing in" do
    clean("/login")
  end

  it "has no violation anywhere" do
    sign_in(senior)
    lucia = of("Fenwick").fitting.patient_id
    [
      "/",
      "/patients",
      "/patients/new",
      "/patients/earlier",
      "/patients/bundle",
      "/week",
      "/week/day",
      "/week/outbox",
      "/people/#{senior.id}/hours",
      "/patients/#{lucia}",
      "/patients/#{lucia}/orders/new",
      "/visits/#{of("Quill", "recheck").id}/book",
      "/visits/#{of("Lang").id}/order",
      "/visits/#{of("Adeyo").id}/measure",
      "/visits/#{of("Adeyo").id}/size",
      "/visits/#{of("Castellane").id}/fit",
      "/visits/#{of("Voss").id}/teach",
      "/visits/#{of("Voss").id}/hand-over",
      "/visits/#{of("Trevanion", "recheck").id}/recheck",
      "/visits/#{of("Thring").id}/record",
      "/visits/#{of("Thring").id}/trail",
      "/visits/#{of("Thring").id}/sheet",
      "/visits/#{of("Lang").id}/referral",
      "/visits/#{of("Lindhoff").id}/measure",
      "/visits/#{of("Doyle").id}/size?side=right",
      "/visits/#{of("Hale").id}/size",
      "/visits/#{of("Hale").id}/computed",
      "/visits/#{of("Remer").id}/size",
      "/visits/#{of("Oduya").id}/order",
      "/visits/#{of("Adeyo").id}/fits",
      "/patients/#{of("Remer").fitting.patient_id}/orders/new?family=graduated_stocking",
      "/catalogue",
      "/catalogue/new",
      *["", "/chart", "/coverage"].map do |rest|
        "/catalogue/#{Handrail::Store::Product.first(clinic_id: demo.id, name: "hinged unloader").id}#{rest}"
      end,
      "/tapes",
      "/nowhere"
    ].each { |path| clean(path) }
  end

  it "stays whole on a tablet, 820 wide" do
    sign_in(senior)
    page.driver.resize(820, 1180)
    [
      "/",
      "/visits/#{of("Adeyo").id}/measure",
      "/visits/#{of("Castellane").id}/fit",
      "/visits/#{of("Doyle").id}/measure",
      "/visits/#{of("Hale").id}/size",
      "/catalogue"
    ].each do |path|
      visit path
      expect(page.evaluate_script("document.documentElement.scrollWidth <= innerWidth")).to be(
        true
      ),
      path
    end
  end
end

# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

# What is known of a wearer whatever is ordered: shown where it is needed, hidden where it is not.
RSpec.describe "A wearer's own record", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:patient) { make_patient(clinic, fitter) }
  let(:page) { "/patients/#{patient.id}" }

  it "shows a standing caution at every stage, and on the papers" do
    sign_in(fitter)
    send_form("#{page}/cautions", from: page, text: "Allergy to latex")
    visit = make_visit(clinic, fitter, patient: patient)
    %w[order measuring-sheet].each do |stage|
      get "/visits/#{visit.id}/#{stage}"
      expect(text).to include "Allergy to latex"
    end
    ask(visit, fitter)
    get "/visits/#{visit.id}/measure"
    expect(text).to include "Allergy to latex"
    get page
    id = html[%r{cautions/(\d+)/end}, 1]
    send_form("#{page}/cautions/#{id}/end", from: page, why: "")
    expect(last_response.status).to eq 422
    expect(text).to include "Write why it holds no longer."
    send_form("#{page}/cautions/#{id}/end", from: page, why: "tested, none")
    get "/visits/#{visit.id}/measure"
    expect(text).not_to include "Allergy to latex"
    get page
    expect(text).to match(/Allergy to latex ended .*: tested, none/)
  end

  it "shows the front desk address, payer and who sent them, and no caution" do
    run_of = Handrail::Store::Desk.new(clinic, fitter)
    run_of.run(
      Handrail::Store::Commands::NoteCaution.new(
        "patient" => patient.id,
        "text" => "Allergy to latex"
      )
    )
    desk = make_account(clinic, "front_desk")
    sign_in(desk)
    get page
    expect(text).not_to include "Allergy to latex"
    send_form(
      page,
      from: "#{page}/edit",
      **values,
      address: "3 Mole Row",
      payer: "Harbour mutual",
      referrer: "Dr Ansel"
    )
    get page
    expect(text).to include "3 Mole Row", "payer: Harbour mutual", "sent by Dr Ansel"
    send_form("#{page}/cautions", from: page, text: "Pacemaker")
    expect(last_response.status).to eq 403
  end

  it "offers those whom the clinic lists before those who prescribed last" do
    senior = make_account(clinic, "senior")
    make_visit(clinic, fitter, prescriber: "Dr Late")
    clinic.update(
      choices:
        Handrail::Store.json(
          { "referrers" => "Dr Listed, Quay surgery\nDr Listed, Quay surgery\n" }
        )
    )
    sign_in(senior)
    get "/patients/new"
    expect(html.scan(/<option value="([^"]*)"/).flatten).to eq [
         "Dr Listed, Quay surgery",
         "Dr Late"
       ]
  end

  def values
    get "#{page}/edit"
    html
      .scan(/name="(\w+)" [^>]*value="([^"]*)"/)
      .to_h
      .slice("given_name", "family_name", "born_on", "record_number", "seen")
      .merge(
        html.scan(/name="seen" value="(\d+)"/).flatten.first.then { |seen| { "seen" => seen } }
      )
      .transform_keys(&:to_sym)
  end
end

# frozen_string_literal: true

require "web_helper"

# The page on which an order is put right, moved or withdrawn.
RSpec.describe "Putting an order right", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter) }
  let(:page) { "/visits/#{visit.id}/amend" }
  let(:order) { { side: "left", prescriber: "Dr Spec", prescribed_on: clinic.today.iso8601 } }
  let(:fields) { { "fields[compartment]" => "medial", "fields[indication]" => "arthrosis" } }

  before { sign_in(fitter) }

  def correct(**changes) =
    send_form(
      "/visits/#{visit.id}/correct-order",
      from: page,
      form: "correct",
      **fields.transform_keys(&:to_sym),
      **order,
      why: "the letter says so",
      **changes
    )

  it "is found from the order, and goes on where the order's work stands" do
    get "/visits/#{visit.id}/order"
    expect(html).to include "Correct, move or withdraw this order"
    correct(side: "right")
    expect(last_response.headers["location"]).to end_with "/visits/#{visit.id}/order"
    follow_redirect!
    expect(text).to include "Order corrected: side left → right: the letter says so"
  end

  it "keeps what was typed, in the form that was sent, and says what is wrong with it" do
    correct(prescriber: "", "fields[indication]": "arthrosis, again")
    expect(last_response.status).to eq 422
    expect(html).to include 'value="arthrosis, again"', "Write who prescribed it."
    send_form(
      "/visits/#{visit.id}/move",
      from: page,
      form: "move",
      record: "none",
      why: "wrong record open"
    )
    expect(html).to include 'value="none"', "There is no record none.", 'value="wrong record open"'
    expect(html.scan("wrong record open").size).to eq 1
  end

  it "shows a withdrawn order struck at the patient, and its pages as they were" do
    send_form("/visits/#{visit.id}/withdraw", from: page, form: "withdraw", why: "ordered twice")
    follow_redirect!
    expect(html).to include "<s>Left knee unloader, inner side</s>", "ordered twice"
    get "/visits/#{visit.id}/order"
    expect(text).to include("withdrawn").and include "Nothing more is written here."
    expect(html).not_to include "/stop-actions", "id=\"ask\"", "/amend"
    get page
    expect(text).to include "This fitting has ended."
  end

  it "names each record at the other where it was moved" do
    other = make_patient(clinic, fitter, given_name: "Zoe")
    send_form(
      "/visits/#{visit.id}/move",
      from: page,
      form: "move",
      record: other.record_number,
      why: "twin sister"
    )
    follow_redirect!
    expect(text).to include "Moved here from record #{visit.fitting.patient.record_number}"
    get "/patients/#{visit.fitting.patient_id}"
    expect(text).to include "Moved to record #{other.record_number}"
  end

  it "is not for the front desk, another clinic, or an old page" do
    old = html_of(page)
    ask(visit, make_account(clinic))
    post "/visits/#{visit.id}/withdraw", { **old, "form" => "withdraw", "why" => "ordered twice" }
    expect([last_response.status, text]).to match [
            409,
            /Look, then enter it again|Yours is not saved/
          ]
    [make_account(clinic, "front_desk"), make_account(make_clinic)].each do |account|
      sign_out
      sign_in(account)
      get page
      expect(last_response.status).to(eq(403).or(eq(404)))
    end
  end

  def html_of(path)
    get path
    last_response
      .body
      .scan(/<input type="hidden" name="(seen|page|entry_key|authenticity_token)" value="([^"]*)"/)
      .reverse
      .to_h
  end
end

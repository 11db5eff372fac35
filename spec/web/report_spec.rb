# frozen_string_literal: true

require "web_helper"

# What the clinic learns.
RSpec.describe "The report", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  it "says what was right first, what was changed, and what ended it" do
    visit = handed_over_visit(clinic, fitter)
    changed = sized_visit(clinic, fitter)
    look(changed, fitter, "slip", value: "22 mm")
    run(changed, fitter, :ChangeOneThing, problem: "slides_down", remedy: "reseat_calf_strap")
    look(changed, fitter, "slip", value: "3 mm")
    get "/report"
    expect(text).to include("Knee unloader 2 1 of 1 0.5 0 0")
    expect(text).to match(
      /It slides down when walking.*Seat strap 1 higher, above the calf bulge: ended it in 1 of 1/
    )
    expect(text).to match(/One size|1 sizes; Brier score 0\.\d{3}/)
    expect(html).to include 'class="reliability"'
    expect(record(visit).product.full_name).to(satisfy { |name| text.include?(name) })
  end

  it "sees a size that was changed later, and hides small counts in what leaves the clinic" do
    visit = handed_over_visit(clinic, fitter)
    later = record(visit).visits.last
    ask(later, fitter)
    2.times { take(later, fitter, "38.5") }
    confirm(later, fitter)
    run(later, fitter, :ChooseSize, size: "L", why: "girth gained")
    learned = Handrail::Store::Learned.new(clinic)
    expect(learned.outcomes.map { |row| row.values_at(:first, :last) }).to eq [%w[M L]]
    expect(learned.families.first.first_right).to eq 0
    expect(send_form("/report/families.csv", from: "/report").body).to eq(
      "family,fittings,sized,first_size_right,changes,rechecks,overdue,under_5\r\n" \
        "Knee unloader,,,0,0,0,0,fittings sized\r\n"
    )
  end

  it "counts no size of which no probability was said, as one that was made to measure" do
    handed = Array.new(2) { handed_over_visit(clinic, fitter) }
    Handrail::Store.db[:fitting_outcomes].where(fitting_id: handed.last.fitting_id).update(
      probability: nil,
      revision_id: nil
    )
    get "/report"
    expect(last_response.status).to eq 200
    expect(text).to match(/1 sizes?; Brier score/)
    expect(Handrail::Store::Learned.new(clinic).reliability.count).to eq 1
  end

  it "is empty in words for a new clinic, and for fitters alone" do
    get "/report"
    expect(text).to include "No size with a probability was handed over yet."
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    refused = [get("/report").status, send_form("/report/families.csv", from: "/").status]
    expect(refused).to eq [403, 403]
  end

  it "asks for the password again before a list leaves the clinic" do
    allow(Time).to receive(:now).and_return(Time.now + (11 * 60))
    expect(send_form("/report/families.csv", from: "/report").status).to eq 422
    expect(text).to include "Your password, once more"
    send_form("/report/families.csv", from: "/report", own_password: "wrong")
    expect(text).to include "This is not your password."
    wrong = send_form("/me/confirm", from: "/me", own_password: "wrong")
    expect([wrong.status, wrong.body]).to eq [422, "This is not your password."]
    right = send_form("/me/confirm", from: "/me", own_password: Fixtures::PASSWORD)
    expect(right.status).to eq 204
    expect(send_form("/report/families.csv", from: "/report").content_type).to start_with "text/csv"
  end

  it "counts nothing of another clinic, nor of the practice patient" do
    stranger = make_account(make_clinic)
    handed_over_visit(stranger.clinic, stranger)
    desk(clinic, fitter).run(Handrail::Store::Commands::MakePracticePatient.new({}))
    expect(Handrail::Store::Learned.new(clinic).families).to eq []
    expect(Handrail::Store::Learned.new(clinic).outcomes).to eq []
  end
end

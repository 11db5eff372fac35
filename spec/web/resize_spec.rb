# frozen_string_literal: true

require "web_helper"

# A recheck at which the limb has outgrown its size: one tap to the new one, and what follows from it.
RSpec.describe "Another size at a recheck", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:worn) { handed_over_visit(clinic, fitter) }
  let(:recheck) { record(worn).visits.last }
  let(:later) { Time.now + (40 * 86_400) }

  def page_of(stage) = "/visits/#{recheck.id}/#{stage}"

  before do
    worn
    Handrail::Store.at(later) do
      ask(recheck, fitter)
      2.times { take(recheck, fitter, "39.5") }
      confirm(recheck, fitter)
    end
    sign_in(fitter)
  end

  it "is offered with what is on the shelf, and taken with one tap" do
    get page_of(:recheck)
    expect(text).to match(
      /It was fitted in M.*Re-size to L.*put away when the new one is written down/
    )
    send_form(page_of(:resize), from: page_of(:recheck), size: "L", side: "left")
    expect(last_response.headers["location"]).to eq "#{page_of(:size)}?side=left"
    expect(record(recheck).sizing.choice("left")[:chosen]).to eq "L"
    get page_of(:recheck)
    expect(text).not_to include("Re-size to L")
  end

  it "is worn by the hours and the plan with which it was handed over, on the wearer's sheet from then on" do
    plan = { "start" => "1", "add" => "1", "every" => "2", "most" => "8" }
    Handrail::Store.at(later) do
      run(recheck, fitter, :ChooseSize, size: "L")
      run(recheck, fitter, :IssueDevice, serial: "L-9")
      finish_steps(recheck, fitter)
      answer_all(recheck, fitter)
      look_at_all(recheck, fitter)
      teach(recheck, fitter)
      hand_over(recheck, fitter, start_hours: "1 hour", plan: plan)
    end
    get page_of(:sheet)
    expect(text).to include("1 hour").and include((clinic.today + 40).strftime("%-d %b %Y"))
    expect(text).not_to include "2 to 3 hours"
    get "/visits/#{worn.id}/sheet"
    expect(text).to include "2 to 3 hours"
  end

  it "puts the old device away when the new one is written down, and its parts begin anew" do
    before = record(recheck).wear.part_dues.to_h { |due| [due.part.key, due.due] }
    Handrail::Store.at(later) do
      run(recheck, fitter, :ChooseSize, size: "L")
      run(recheck, fitter, :IssueDevice, serial: "L-9")
    end
    old, new = record(recheck).visits.flat_map { |row| record(row).rows(:issued_devices) }
    expect([old[:ended_why], new[:ended_at], new[:size]]).to eq ["replaced", nil, "L"]
    expect(record(recheck).sizing.device("left")[:serial]).to eq "L-9"
    after = record(recheck).wear.part_dues.to_h { |due| [due.part.key, due.due] }
    expect(after.to_h { |key, day| [key, (day - before[key]).to_i] }).to eq(
      "pads" => 40,
      "straps" => 40
    )
    kept =
      Handrail::Store.db[:fitting_dues].where(
        fitting_id: worn.fitting_id,
        kind: "part"
      ).select_hash(:key, :due_on)
    expect(kept).to eq after
  end

  it "is not offered while a stop sign stands, nor where the readings do not say so" do
    Handrail::Store.at(later) { ask(recheck, fitter, stops: %w[chest]) }
    get page_of(:recheck)
    expect(text).not_to include("Re-size to")
    send_form(page_of(:resize), from: page_of(:recheck), size: "L", side: "left")
    expect(last_response.status).to be_between(409, 422)
    expect(record(recheck).rows(:size_choices)).to be_empty
  end

  it "can not be slipped past the tie or the reason: another size than the advised needs a why" do
    send_form(page_of(:resize), from: page_of(:recheck), size: "S", side: "left")
    expect([last_response.status, text]).to match [422, /Say why you take S/]
  end
end

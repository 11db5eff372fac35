# frozen_string_literal: true

require "web_helper"
require "pdf-reader"
require "stringio"
require_relative "../support/whole_jobs"

# The record as a paper: what stood on it of one side alone, or of no side, and what was put right since.
RSpec.describe "The record of a visit on paper", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic, "senior") }
  let(:pair) { sized_job("knee_cage", side: "both") }

  before { sign_in(fitter) }

  def paper(visit)
    get "/visits/#{visit.id}/record.pdf"
    expect(last_response.headers["content-type"]).to eq "application/pdf"
    PDF::Reader.new(StringIO.new(last_response.body)).pages.map(&:text).join(" ").gsub(/\s+/, " ")
  end

  def set(visit, side, **settings)
    run(visit, fitter, :WriteSettings, settings: settings.transform_keys(&:to_s), side: side)
  end

  def over(visit)
    finish_steps(visit, fitter)
    look_at_all(visit, fitter)
    teach(visit, fitter)
    hand_over(visit, fitter)
  end

  # an entry of each kind that names a side of the pair
  def change(side)
    problem = record(pair).family.problems.first
    now = record(pair)
    check = now.fit.checks(side).map(&:first).find { |one| problem.shown_by?(one.key, nil) }
    look(pair, fitter, check.key, side: side, outcome: "bad", note: "seen on the #{side}") if check
    remedy = now.remedies.offers(problem, side).first.remedy
    run(pair, fitter, :ChangeOneThing, problem: problem.key, remedy: remedy.key, side: side)
    remedy.title
  end

  it "says the marks of both sides, each by its name" do
    finish_steps(pair, fitter)
    set(pair, "left", thigh: "60 mm")
    set(pair, "right", thigh: "75 mm")
    expect(paper(pair)).to match(
      /Marks and settings.*left, Thigh strap 60 mm.*right, Thigh strap 75 mm/
    )
  end

  it "says on which side a thing was changed, and what went away, is back or is not" do
    finish_steps(pair, fitter)
    title = change("right")
    send = ->(what, side) do
      run(
        pair,
        fitter,
        :WriteJobSlip,
        doer: "workshop",
        what: what,
        side: side,
        due_on: (clinic.today + 3).iso8601
      )
      record(pair).fit.slips_out.last[:id]
    end
    first = send.call("rivet lower", "left")
    send.call("pad thinner", "right")
    run(pair, fitter, :CloseJobSlip, slip: first, outcome: "back", note: "10 mm")
    found = paper(pair)
    expect(found).to match(/Changed .*right, #{Regexp.escape(record(pair).fill(title))}/i)
    expect(found).to match(/left, To the workshop: rivet lower, due [^,]+, back on [^,]+, 10 mm/)
    expect(found).to match(/right, To the workshop: pad thinner, due [^,]+, not back yet/)
  end

  it "strikes nothing silently: a corrected check and reading say so, and what stands for them" do
    worn = sized_job("knee_unloader")
    over(worn)
    looked = record(worn).rows(:check_results).find { |row| row[:check_key] == "no_pinch" }
    read = record(worn).usable_readings.first
    run(
      worn,
      fitter,
      :CorrectCheck,
      corrects: looked[:id],
      outcome: "bad",
      why: "ticked the wrong line"
    )
    run(
      worn,
      fitter,
      :CorrectReading,
      corrects: read[:id],
      value: read[:typed],
      unit: read[:unit],
      why: "other leg"
    )
    found = paper(worn)
    day = Handrail::Quantity::Day.write(clinic.today)
    expect(found).to match(/yes; corrected: ticked the .*wrong line.*no; a correction of #{day}/)
    expect(found).to match(/corrected: other leg.*a correction of #{day}/)
    get "/visits/#{worn.id}/record"
    expect(text).to match(/corrected: ticked the wrong line.*a correction of #{day}/)
  end

  it "tells a stop that was tapped by mistake from one that somebody was spoken to about" do
    visit = sized_job("knee_unloader")
    sign, other = record(visit).family.stop_signs.first(2).map(&:key)
    ask(visit, fitter, stops: [sign, other])
    run(
      visit,
      fitter,
      :RecordStopAction,
      stop: sign,
      action: "mistake",
      advice: "wrong line tapped"
    )
    run(
      visit,
      fitter,
      :RecordStopAction,
      stop: other,
      action: "referred",
      who: "Dr Spec",
      advice: "seen today"
    )
    found = paper(visit)
    expect(found).to include("stop sign tapped by mistake: wrong line tapped")
    expect(found).to include("stop sign dealt with (referred), Dr Spec: seen today")
    get "/visits/#{visit.id}/record"
    expect(text).to include("Stop sign tapped by mistake: wrong line tapped")
    expect(text).not_to match(/dealt with \([^)]*\), #{Regexp.escape(fitter.name)}/)
  end

  it "ends with every entry of the visit, in its order, and with nothing of another" do
    over(pair)
    later = Handrail::Store::Visit.first(fitting_id: pair.fitting_id, purpose: "recheck")
    cautions(later)
    answer_all(later, fitter)
    found = paper(later)[/As it was written.*/]
    said = record(later).events.map { |entry| entry[:said].gsub(/\s+/, " ")[0, 25] }
    expect(said.size).to be > 3
    expect(said.map { |one| found.index(one) }).to all(be_an(Integer))
    expect(found).not_to include "handed over, signed"
  end
end

# frozen_string_literal: true

require "web_helper"
require_relative "../support/whole_jobs"
require "icalendar"
require "pdf-reader"

# A pair of which a recheck gives out one anew: that one is worn by hours, plan, rechecks and stage of its own, and
# the other as it was.
RSpec.describe "The plan of a pair, by side", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic, "senior") }
  let(:first_day) { Time.utc(2026, 9, 7, 9, 12) }
  let(:new_day) { first_day + (60 * 86_400) }
  let(:worn) { sized_job("knee_cage", side: "both") }
  let(:later) do
    finish_steps(worn, fitter)
    look_at_all(worn, fitter)
    teach(worn, fitter)
    hand_over(worn, fitter, plan: { "start" => "2", "add" => "1", "every" => "2", "most" => "8" })
    Handrail::Store::Visit
      .first(fitting_id: worn.fitting_id, purpose: "recheck")
      .tap do |visit|
        cautions(visit)
        measure(visit)
      end
  end

  before { Handrail::Store.at(first_day) { later } }

  def clear(stage, side, **more)
    run(later, fitter, :ClearStage, stage: stage, side: side, cleared_by: "Dr Tamsin", **more)
  end

  # at the recheck the left one breaks: another piece of the same size
  def give_left_anew
    Handrail::Store.at(new_day) do
      run(later, fitter, :IssueDevice, serial: "S-new", side: "left", same: "another")
      answer_all(later, fitter)
      finish_steps(later, fitter)
      look_at_all(later, fitter)
      teach(later, fitter)
      yield if block_given?
      plan = { "start" => "1", "add" => "1", "every" => "2", "most" => "3" }
      hand_over(later, fitter, start_hours: "1 hour", plan: plan)
    end
  end

  def sheet(**more)
    Handrail::Web::Visits::SheetPage.new(record(later), **more)
  end

  def calendar
    made = Handrail::Web::Visits::SheetCalendar.new(sheet).to_ical
    Icalendar::Calendar
      .parse(made)
      .first
      .events
      .filter_map do |event|
        key = event.uid.to_s[/\Awear-[^@]*(?=-\d+@)/] or next
        [key, event.dtstart.to_date, event.summary.to_s]
      end
  end

  it "is told of each on the wearer's sheet, its paper and its calendar" do
    expect(sheet.plans.map(&:side)).to eq [nil]
    whole = sheet.plans.first.start
    give_left_anew
    starts = sheet.plans.map { |plan| [plan.side, plan.start] }
    expect(starts).to match [["left", /\ALeft: .*1 hour/], ["right", "Right: #{whole}"]]
    days = sheet.plans.map { |plan| plan.break_in_said.first.first }
    expect(days).to match [/6 Nov 2026/, /7 Sept? 2026/]
    expect(sheet(language: "de").plans.map(&:start)).to match [/\ALinks: /, /\ARechts: /]
    paper = Handrail::Web::Visits::SheetPaper.new(sheet, ["Heron Quay"]).make.bytes
    said = PDF::Reader.new(StringIO.new(paper)).pages.map(&:text).join(" ").gsub(/\s+/, " ")
    expect(said).to include("Left: ").and include("Right: ").and match(
                  %r{ Left .*6 Nov.* Right .*7 Sep}
                )
    sign_in(fitter)
    get "/visits/#{later.id}/sheet"
    expect(text).to match(/Left: .*1 hour.*Right: .*Left.*6 Nov 2026.*Right.*7 Sept? 2026/)
    expect(calendar).to include(
      ["wear-left-1", Date.new(2026, 11, 6), /left/],
      ["wear-right-1", Date.new(2026, 9, 7), /right/]
    )
  end

  it "is one for both while both were handed over together" do
    expect(calendar.first).to match ["wear-1", Date.new(2026, 9, 7), /both/]
  end

  it "names at the hand-over the side that is received" do
    give_left_anew do
      sign_in(fitter)
      get "/visits/#{later.id}/hand-over"
      expect(text).to include("Hand over, left").and match(/I have received: .*, left/)
      expect(text).not_to match(/I have received: .*both/)
    end
    get "/visits/#{later.id}/hand-over"
    expect(text).to include "Handed over, left"
    get "/visits/#{worn.id}/sheet"
    expect(text).to include "What is worn now stands on the newer sheet"
    get "/visits/#{later.id}/sheet"
    expect(text).not_to include "newer sheet"
    get "/visits/#{later.id}/record"
    expect(last_response.body).to include %(href="/visits/#{later.id}/sheet")
    get "/visits/#{worn.id}/hand-over"
    expect(text).to include("Handed over").and(satisfy { |said| !said.include?("Handed over, ") })
  end

  it "is told by its side where a like device is ordered later" do
    give_left_anew
    again = order(Handrail::Store::Product[worn.fitting.product_id], side: "left")
    again.fitting.update(patient_id: worn.fitting.patient_id)
    found = Handrail::Store.at(new_day) { Handrail::Store::Visits.like_devices(record(again), 3) }
    expect(found.map { |one| [one.on, one.side] }).to eq [
         [Date.new(2026, 11, 6), "left"],
         [Date.new(2026, 9, 7), "both"]
       ]
  end

  it "has the new one looked at as early as the first was, where it was pinned to that" do
    give_left_anew
    booked = record(later).visits.last
    expect([booked.due_from, booked.due_to]).to eq [Date.new(2026, 11, 11), Date.new(2026, 11, 16)]
    expect(record(later).wear.next_recheck.key).to eq "early"
  end

  it "is counted from the first hand-over by what was pinned before" do
    given = { "left" => Date.new(2026, 11, 6), "right" => Date.new(2026, 9, 7) }
    asked = {
      handed_over: Date.new(2026, 9, 7),
      given: given,
      done: [Date.new(2026, 9, 15), Date.new(2026, 11, 6)]
    }
    plan = record(later).recheck_plan
    by = [1, 2].map { |number| Handrail::Methods.made_by("recheck_plan", number) }
    expect(by.map { |way| way.next(plan, **asked).key }).to eq %w[routine early]
    late = { handed_over: asked[:handed_over], given: {}, done: [Date.new(2026, 11, 6)] }
    expect(by.map { |way| way.next(plan, **late).key }).to eq %w[settled routine]
    alike = asked.merge(given: given.transform_values { Date.new(2026, 9, 7) })
    expect(by.map { |way| way.next(plan, **alike).from }.uniq.size).to eq 1
    expect(Handrail::Methods.made_by("recheck_plan", nil)).to eq by.first
  end

  # resources of a kind, as the record would go out now
  def sent(kind)
    visits = [worn, later].map { |one| record(one) }
    Handrail::Exchange::Fhir.new(clinic, worn.fitting.patient, visits).bundle["entry"]
      .map { |entry| entry["resource"] }
      .select { |one| one["resourceType"] == kind }
  end

  def plans_sent = sent("CarePlan").map { |one| one.values_at("title", "description", "status") }

  it "goes to other programs as a plan of each hand-over" do
    hours = record(worn).hand_over[:start_hours]
    expect(plans_sent).to eq [["Wearing and rechecks", hours, "active"]]
    give_left_anew
    expect(plans_sent).to eq [
         ["Wearing and rechecks", hours, "active"],
         ["Wearing and rechecks, left", "1 hour", "active"]
       ]
    run(later, fitter, :EndFitting, why: "one leg is well", side: "right")
    expect(plans_sent.map(&:last)).to eq %w[completed active]
  end

  it "is said to be used from its own hand-over on, and not before" do
    used = -> { sent("DeviceUseStatement").map { |one| one["timingPeriod"]["start"][0, 10] } }
    give_left_anew { expect(used.call).to eq %w[2026-09-07 2026-09-07] }
    expect(used.call).to eq %w[2026-09-07 2026-09-07 2026-11-06]
  end

  it "stands at a stage of its own" do
    expect { clear("full_wear", nil) }.to raise_error(
      Handrail::Store::Unacceptable,
      /Say on which side/
    )
    clear("full_wear", "left", hours: "8")
    now = record(later)
    expect([now.wear.stage("left").key, now.wear.stage("right").key]).to eq %w[full_wear break_in]
    expect([now.wear.stage_hours("left"), now.wear.stage_hours("right")]).to eq [8, nil]
    expect(now.events.last[:said]).to match(/\Aleft .*cleared by Dr Tamsin/)
    expect(sheet.stages.map(&:first)).to match [/\ALeft: /, /\ARight: /]
    sign_in(fitter)
    get "/visits/#{later.id}/recheck?side=right"
    expect(text).to include "Stages, right"
    expect(text).not_to include "cleared by Dr Tamsin"
    clear("full_wear", "right", hours: "8")
    expect(sheet.stages.map(&:first)).to eq [record(later).wear.stage("left").label]
  end

  it "begins again with getting used to it where a device was given out anew, and says what was cleared before" do
    %w[left right].each { |side| clear("full_wear", side, hours: "8") }
    give_left_anew
    now = record(later)
    expect([now.wear.stage("left").key, now.wear.stage("right").key]).to eq %w[break_in full_wear]
    expect([now.wear.stage_hours("left"), now.wear.stage_hours("right")]).to eq [nil, 8]
    sign_in(fitter)
    get "/visits/#{later.id}/recheck?side=left"
    expect(text).to match(/Worn as ordered on .*, for the one worn before/)
    get "/visits/#{later.id}/recheck?side=right"
    expect(text).not_to include "for the one worn before"
  end

  it "stands, where it was cleared before sides were told, at the same on both" do
    clear("full_wear", "left")
    row = Handrail::Store.db[:stage_clearances].where(visit_id: later.id).first
    Handrail::Store.db[:stage_clearances].insert(**row.except(:id), side: nil)
    read_anew(later.id)
    now = record(later)
    expect([now.wear.stage("left").key, now.wear.stage("right").key]).to eq %w[full_wear full_wear]
  end
end

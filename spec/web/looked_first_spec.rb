# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

# Who is lifted, or stands on a lock, is looked at before: afterwards it is a fall.
RSpec.describe "What is looked at before a step", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }

  def step(visit, key) = run(visit, fitter, :FinishStep, step: key)

  # all steps before one
  def up_to(visit, key)
    steps = record(visit).fit.applying.steps.map(&:key)
    steps.take_while { |one| one != key }.each { |one| step(visit, one) }
  end

  def unlooked(visit)
    now = record(visit)
    now.fit.applying.unlooked(now.fit.applying.next, now.fit.checklist(now.sides.first)).map(&:key)
  end

  it "lifts nobody who was not weighed, and nobody in an open clip" do
    job = sized_job("gait_harness")
    up_to(job, "lift")
    asked = %w[weight_today waist_place band groin breath clips_shut before_lifting]
    expect(unlooked(job)).to match_array asked
    expect { step(job, "lift") }.to raise_error(Handrail::Store::Unacceptable, /Today's weight/)
    (asked - %w[clips_shut]).each do |key|
      value = { "weight_today" => "70 kg", "band" => "10 mm" }[key]
      look(job, fitter, key, value: value)
    end
    run(job, fitter, :RecordCheck, check: "clips_shut", outcome: "bad")
    expect { step(job, "lift") }.to raise_error(Handrail::Store::Unacceptable, /clip/)
    change = { problem: "clip_open", remedy: "start_again" }
    run(job, fitter, :ChangeOneThing, **change)
    # what was looked at before the clip was closed is looked at again
    expect(unlooked(job)).to include("clips_shut", "before_lifting", "groin", "breath")
    look_first(job, fitter, record(job).fit.applying.next, record(job).sides.first)
    expect(step(job, "lift").visit.fit.applying.done).to include "lift"
  end

  it "draws no button for the step, the first check in its place, and says what it is for" do
    job = sized_job("knee_cage", side: "left")
    up_to(job, "stand")
    sign_in(fitter)
    get "/visits/#{job.id}/fit"
    expect(text).to match(/Stand, held straight\s+Look at one check first/)
    expect(last_response.body).not_to include 'id="step"'
    expect(last_response.body).to include('is-current" id="check-locks"')
    send_form("/visits/#{job.id}/steps", from: "/visits/#{job.id}/fit", step: "stand", side: "left")
    expect(record(job).fit.applying.done).not_to include "stand"
  end

  it "asks what was not looked at yet before what failed" do
    job = sized_job("gait_harness")
    up_to(job, "lift")
    failed, other = unlooked(job)
    run(job, fitter, :RecordCheck, check: failed, outcome: "bad", value: "400 kg")
    sign_in(fitter)
    get "/visits/#{job.id}/fit"
    expect([failed, other]).to eq %w[weight_today waist_place]
    expect(last_response.body[/is-current" id="check-([^"]+)"/, 1]).to eq other
  end

  it "says the limit of the gear where the weight is asked, not the name of its figure" do
    job = sized_job("gait_harness")
    sign_in(fitter)
    get "/visits/#{job.id}/fit?check=weight_today"
    limit =
      Integer(record(job).config["weight_limit"], exception: false) ||
        record(job).config["weight_limit"]
    expect(text).to include("The limit of this harness is #{limit} kg.")
  end

  it "asks nothing of a joint that does not lock" do
    family = Handrail::Families::Registry.fetch("kafo")
    free = family.config({ "knee" => "free" }, {})
    expect(family.checks(free).map(&:key)).not_to include "locks"
  end

  it "ticks no such step in one go with others" do
    Handrail::Store::Ways.change(fitter, %w[one_go])
    job = sized_job("gait_harness")
    up_to(job, "lift")
    expect(record(job).fit.applying.together([])).to be_empty
    expect { run(job, fitter, :FinishStep, step: "lift", through: "minute") }.to raise_error(
      Handrail::Store::Unacceptable,
      /together/
    )
  end
end

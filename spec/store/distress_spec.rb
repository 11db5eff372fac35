# frozen_string_literal: true

require "store_helper"
require_relative "../support/whole_jobs"

# What can cost life, limb or spine, the whole way: it is seen, the page says the way out first, nobody's word lets
# it pass, and what does not come back is a stop with its urgency that holds until somebody writes what was done.
RSpec.describe "Signs of distress", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }

  def bad(visit, check, side)
    now = record(visit)
    found = now.family.check(check)
    look(visit, fitter, check, side: side, outcome: "bad", way: found.ways.to_a.first&.key)
  end

  def answer(family, check)
    family.problems.find { |one| one.shows_in.include?(check.key) && one.remedies.first.distress }
  end

  Handrail::Families::Registry.all.each_value do |family|
    next if family.all_checks.none?(&:distress)

    it "#{family.key}: way out first, no word lets it pass, and a stop where it stays" do
      visit = sized_job(family.key)
      finish_steps(visit, fitter)
      side = record(visit).sides.first
      check = record(visit).fit.checks(side).map(&:first).find(&:distress)
      bad(visit, check.key, side)
      now = record(visit)
      expect(now.gates.blocks(:hand_over).map(&:code)).to include(:check_distress)
      expect(now.gates.firm.map(&:code)).to include(:check_distress)
      expect { run(visit, senior, :LetPass, reason: "it will be well") }.to raise_error(
        Handrail::Store::Refused
      )
      problem = answer(now.family, check)
      first = problem.remedies.first
      said = now.fill(first.why)
      now.family.way_out(now.config).each { |text| expect(said).to include(now.fill(text)) }
      # off, waited, and it has not come back
      run(visit, fitter, :ChangeOneThing, problem: problem.key, remedy: first.key, side: side)
      expect(record(visit).gates.firm.map(&:code)).to include(:check_distress)
      stays = problem.remedies.find(&:stop)
      run(visit, fitter, :ChangeOneThing, problem: problem.key, remedy: stays.key, side: side)
      stop = record(visit).safety.stops.first
      expect([stop.text, stop.urgency.to_s]).to eq [
           now.family.sign(stays.stop).text,
           now.family.sign(stays.stop).urgency
         ]
      expect {
        run(visit, fitter, :RecordCheck, check: check.key, side: side, outcome: "good")
      }.to raise_error(Handrail::Store::Refused)
      # it ends by an act of its own
      run(
        visit,
        fitter,
        :RecordStopAction,
        stop: stop.key,
        action: "emergency",
        who: "ambulance",
        advice: "taken in"
      )
      expect(record(visit).safety.stops.map(&:key)).not_to include(stop.key)
      expect(record(visit).gates.firm.map(&:code)).to include(:check_distress)
    end
  end

  it "holds everything at every emergency that is ticked, whatever a senior says" do
    Handrail::Families::Registry.all.each_value do |family|
      visit = order(demo_product(family.key))
      family
        .stop_signs
        .select { |sign| sign.urgency == "emergency" }
        .each do |sign|
          sound = { "arm_left" => "130", "ankle_left_front" => "140", "ankle_right_front" => "138" }
          ask(visit, fitter, stops: [sign.key], pressures: family.index ? sound : {})
          now = record(visit)
          expect(now.safety.stops.map(&:text)).to include(sign.text)
          expect(now.gates.before(:take_reading).map(&:code)).to include(:stop)
          expect(now.gates.passable).to eq []
        end
    end
  end
end

# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

RSpec.describe "What a wrap presses at the least pull", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:worn) do
    sized_job("compression_wrap").tap do |visit|
      finish_steps(visit, fitter)
      look_at_all(visit, fitter)
      put_right(visit)
      teach(visit, fitter)
      hand_over(visit, fitter)
    end
  end
  let(:later) do
    Handrail::Store::Visit.where(fitting_id: worn.fitting_id, purpose: "recheck").first
  end

  # every strap to where the line wants it; its mark is drawn there
  def put_right(visit)
    straps = record(visit).sizing.straps
    record(visit)
      .pressure
      .pressures
      .zip(straps)
      .each do |read, strap|
        wanted = read.target.round.to_s
        run(visit, fitter, :RecordCheck, check: "pressure", place: strap.key, value: wanted)
      end
  end

  # the leg as it was, times a share
  def read_again(share)
    cautions(later)
    first = record(worn)
    record(later).needs.each do |item|
      was = first.repeats_of(item) or next
      mm = was.mm * (item.site.kind == "girth" ? share : 1)
      take(
        later,
        fitter,
        "#{mm.to_f.round(1)} mm",
        site: item.site.key,
        side: item.side,
        posture: item.posture,
        tension: item.tension,
        unit: "mm"
      )
    end
    record(later)
  end

  def notes(visit)
    Handrail::Web::Verdict.new(visit, visit.sides.first).notes.map(&:text).grep(/pull/i)
  end

  it "is what was read, while the leg is as it was; and nothing before it was read" do
    expect(record(later).pressure.least_pulls).to eq []
    now = read_again(1)
    read = record(worn).pressure.pressures.map { |strap| strap.pressure.to_f }
    expect(now.pressure.least_pulls.map { |pull| pull.pressure.round(6) }).to eq read
    expect(now.pressure.least_pulls.map(&:state).uniq).to eq [:within]
    expect(notes(now)).to match [/\APulled just to their marks, straps 1, .* press as wanted today/]
  end

  it "says which straps would press too little on a leg that has emptied, and asks for new marks" do
    now = read_again(0.94)
    expect(now.pressure.least_pulls.map(&:state).uniq).to eq [:below]
    expect(notes(now)).to match [
            /would press .* mmHg today, where .* are wanted: pull them further/
          ]
  end

  it "is held against the marks that were drawn last: written as 0 past, with the straps read" do
    now = read_again(0.94)
    expect(now.pressure.least_pulls.map(&:state).uniq).to eq [:below]
    settings = { "lowest" => "0 mm", "top" => "0 mm" }
    run(later, fitter, :WriteSettings, settings: settings)
    # marks without pressures say nothing new
    expect(record(later).pressure.least_pulls.map(&:state).uniq).to eq [:below]
    look_at_all(later, fitter)
    put_right(later)
    expect(record(later).pressure.least_pulls.map(&:state).uniq).to eq [:within]
    # pulled past them they are the old marks still
    run(later, fitter, :WriteSettings, settings: settings.merge("top" => "12 mm"))
    expect(record(later).pressure.least_pulls.map(&:state).uniq).to eq [:below]
  end

  it "says that the size is too small where even the least pull presses too much" do
    now = read_again(1.05)
    expect(now.pressure.least_pulls.map(&:state)).to include :above
    expect(notes(now).join(" ")).to include "Even at the least pull"
  end

  # Laplace, by hand: tension = P C w / 4621.7 kgf, 9.80665 N each; the same pull presses P C / C' at
  # another girth, and twice as much with a second layer
  it "pulls by Laplace, and presses more where the leg is thinner at the next strap" do
    now = record(worn)
    girths =
      now.sizing.straps.map do |strap|
        now.sizing.profile(now.sizing.figure).girth(length(strap.level).mm.to_f)
      end
    first, second = now.pressure.pulls
    pressed = now.pressure.pressures.first.pressure.to_f
    width = now.family.option("strap_width").value(now.config["strap_width"]).mm.to_f
    tension = pressed * (girths[0] / 10) * (width / 10) / 4621.7
    expect(first.newtons).to be_within(0.01).of(tension * 9.80665)
    expect(first.one_more).to be_within(1e-9).of(2 * pressed)
    expect(first.next_girth).to be_within(1e-9).of(pressed * girths[0] / girths[1])
    expect([second.number, now.pressure.pulls.last.next_girth]).to eq [2, nil]
    expect(Handrail::Wording.pull(first)).to match(
      /\AStrap 1: about .* N.*next strap's girth \d+ mmHg/
    )
  end

  it "presses less on a thinner leg, and names the straps that fall out of their band" do
    thinned = record(worn).pressure.thinned
    expect(thinned.map(&:percent)).to eq [1, 2, 3, 4, 5]
    expect(thinned.map { |one| one.pressures.first }).to eq(
      thinned.map { |one| one.pressures.first }.sort.reverse
    )
    expect([thinned.first.below, thinned.last.below.size]).to eq [
         [],
         record(worn).sizing.straps.size
       ]
  end

  it "is nothing of a device whose marks are a reference, or at a first visit" do
    expect(record(worn).pressure.least_pulls).to eq []
    again = record(handed_over_visit(clinic, fitter)).visits.last
    ask(again, fitter)
    expect(record(again).pressure.least_pulls).to eq []
  end
end

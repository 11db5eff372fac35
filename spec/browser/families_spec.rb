# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# What a fit and a recheck of other devices come to on the screen: a wrap put right strap by strap, two
# stockings of two sizes, a belt, a long orthosis, a dog; a recheck that keeps, one that stops and
# refers, a series that comes to rest.
RSpec.describe "Fits and rechecks of other devices, in a browser" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  def open_bench(fitting, stage, query = "") = visit("/visits/#{fitting.id}/#{stage}#{query}")

  # types a value into the check that is asked for, or presses y
  def answer_check(item)
    good = good_value(item.check, item.place)
    good ? fill_in("check-value", with: good) : nil
    good ? click_button("Take") : click_button("Yes")
  end

  it "wrap: six straps from wrong to right in the fewest changes, with the lowest first" do
    fitting = sized_job("compression_wrap")
    finish_steps(fitting, fitter)
    items = record(fitting).fit.checklist.items.select { |item| item.check.kind == "pressure" }
    wrong = [44, 45, 40, 30, 37, 33]
    items.each_with_index do |item, i|
      open_bench(fitting, "fit", "?check=#{item.key}")
      fill_in "check-value", with: wrong.fetch(i, 32).to_s
      click_button "Take"
      expect(page).to have_css(".checks", text: "#{wrong.fetch(i, 32)} mmHg")
    end
    asked = record(fitting).pressure.pressures.reject { |strap| strap.state == :leave }
    expect(asked).not_to be_empty
    expect(page).to have_content(
      "Strap #{asked.first.number}: #{asked.first.state} to #{asked.first.set_to.round} mmHg"
    )
    expect(page).to have_css("svg[role=img]", minimum: 1)
    asked.each do |strap|
      item = items[strap.number - 1]
      look(fitting, fitter, item.check.key, place: item.place, value: strap.set_to.round.to_s)
    end
    open_bench(fitting, "fit")
    expect(page).to have_content("All straps may stay as they are")
    expect(axe).to be_empty
  end

  it "two stockings of two sizes: each leg looked at on its own, one failing does not fail the other" do
    fitting = sized_job("anti_embolism_stocking")
    sides = record(fitting).sides
    expect(sides).to eq %w[left right]
    finish_steps(fitting, fitter)
    open_bench(fitting, "fit", "?side=right")
    expect(page).to have_css(".chip-button.is-on", text: "Right")
    item = record(fitting).fit.checklist("right").items.find { |one| !one.check.measured? }
    open_bench(fitting, "fit", "?side=right&check=#{item.key}")
    click_button "No"
    expect(page).to have_css(".checks", text: "no")
    now = record(fitting)
    expect([now.fit.checklist("right").failed.size, now.fit.checklist("left").failed.size]).to eq [
         1,
         0
       ]
    expect(axe).to be_empty
  end

  # answers the check that is asked now
  def see(fitting, side, item)
    expect(page).to have_css("input[name=check][value='#{item.check.key}']", visible: :hidden)
    answer_check(item)
    wait_until { record(fitting).fit.checklist(side)[item.key].result }
  end

  %w[abdominal_support_belt kafo canine_splint].each do |family|
    it "#{family.tr("_", " ")}: every step and every check by hand, up to teaching" do
      fitting = sized_job(family)
      side = record(fitting).sides.first
      open_bench(fitting, "fit")
      record(fitting)
        .fit
        .applying(side)
        .steps
        .size
        .times do
          now = record(fitting)
          before = now.rows(:steps_done).size
          applying = now.fit.applying(side)
          # who stands on a lock is looked at first
          applying
            .unlooked(applying.next, now.fit.checklist(side))
            .each { |item| see(fitting, side, item) }
          page.check("sure", allow_label_click: true) if page.has_css?("[name=sure]", wait: 0)
          find("[data-key=Space]").click
          wait_until { record(fitting).rows(:steps_done).size > before }
        end
      record(fitting)
        .fit
        .checks(side)
        .size
        .times do
          item = record(fitting).fit.checklist(side).next or break
          see(fitting, side, item)
        end
      expect(record(fitting).fit.checklist(side).good?).to be true
      if record(fitting).sides.one?
        expect(page).to have_css("a.button.is-primary", text: /each/)
        expect(record(fitting).gates.open?(:teach)).to be true
      end
    end
  end

  it "a recheck that keeps: asked, looked, closed by hand" do
    later = recheck_of("knee_unloader")
    open_bench(later, "recheck")
    expect(page).to have_css("h1", text: "Then and now")
    record(later)
      .asks_open
      .map(&:first)
      .each do |ask|
        within(find(".ask-one", text: ask.label)) { click_button ask.choices.first.label }
        expect(page).to have_css(".ask-one .is-on", text: ask.choices.first.label)
      end
    look_at_all(later, fitter)
    open_bench(later, "recheck")
    click_button "Close the recheck"
    expect(page).to have_current_path(%r{/record})
    expect(record(later).closed?).to be true
    expect(record(later).visits.last.due_from).to be > clinic.today
  end

  it "a recheck that stops: broken skin holds everything until somebody says what was done" do
    later = recheck_of("knee_unloader")
    open_bench(later, "recheck")
    within(find(".ask-one", text: "Skin under the device")) { click_button "broken or blistered" }
    expect(page).to have_css(".is-stop")
    expect(record(later).gates.open?(:close)).to be false
    expect(page).to have_no_button("Close the recheck")
    open_bench(later, "measure")
    expect(page).to have_no_css("#take button.is-primary:not([disabled])", text: "Take")
    stop = record(later).safety.stops.first
    run(
      later,
      fitter,
      :RecordStopAction,
      stop: stop.key,
      action: "referred",
      who: "Dr Ansel Weatherby",
      advice: "Off until seen on Friday."
    )
    answer_all(later, fitter)
    look_at_all(later, fitter)
    open_bench(later, "recheck")
    click_button "Close the recheck"
    expect(page).to have_content("Dr Ansel Weatherby")
    expect(record(later).closed?).to be true
  end

  it "a dog's hock: the next stage of its range, with the name of who cleared it, and not without" do
    job = sized_job("canine_hock_brace", also: { "range" => "0" })
    later = recheck_of("canine_hock_brace", job)
    open_bench(later, "recheck")
    expect(page).to have_css(".stage-steps .is-here", text: "0 degrees")
    find("summary", text: "Another stage was cleared").click
    # every field of it is wide enough to be typed in
    widths =
      %w[cleared_by hours agreed].map { |id| find_field(id).evaluate_script("this.offsetWidth") }
    expect(widths).to all(be >= 100)
    click_button "Write it down"
    expect(page).to have_css(".fault", text: "Write who cleared it")
    fill_in "cleared_by", with: "Dr Lowe, vet"
    fill_in "agreed", with: "two weeks, then a look"
    click_button "Write it down"
    expect(page).to have_css(".stage-steps .is-here", text: "10 degrees")
    expect(page).to have_content(
      "10 degrees on #{Handrail::Quantity::Day.write(clinic.today)}, cleared by Dr Lowe, vet"
    )
    expect(record(later).wear.stage.key).to eq "range_10"
    expect(axe).to be_empty
  end

  # at noon of a day, so many days ago
  def days_ago(days, &block) = Handrail::Store.at(clinic.moment(clinic.today - days, 12, 0), &block)

  it "a wrap series that comes to rest: after five visits the limb is steady, and what then can begin is said" do
    first = days_ago(70) { sized_job("compression_wrap").tap { |visit| handed(visit) } }
    later = nil
    [56, 42, 28, 14].each do |days|
      days_ago(days) { later = rechecked(first).tap { |visit| run(visit, fitter, :CloseRecheck) } }
    end
    now =
      Handrail::Store::Visit.where(
        fitting_id: first.fitting_id,
        purpose: "recheck",
        closed_at: nil
      ).first
    cautions(now)
    measure(now)
    open_bench(now, "recheck")
    expect(page).to have_css(".then-now.is-girths th", text: "last")
    expect(page).to have_content(
      "Steady for three visits. Maintenance is reached; a stocking in place of the wrap"
    )
    expect(page).to have_css("svg.trend-line")
    expect(axe).to be_empty
    expect(record(later).closed?).to be true
  end

  def handed(visit)
    finish_steps(visit, fitter)
    look_at_all(visit, fitter)
    teach(visit, fitter)
    hand_over(visit, fitter)
  end

  def rechecked(first)
    later =
      Handrail::Store::Visit.where(
        fitting_id: first.fitting_id,
        purpose: "recheck",
        closed_at: nil
      ).first
    cautions(later)
    measure(later)
    answer_all(later, fitter)
    look_at_all(later, fitter)
    later
  end
end

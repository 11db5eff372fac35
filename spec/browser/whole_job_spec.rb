# frozen_string_literal: true

require "browser_helper"

RSpec.describe "The whole job, by keyboard" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { |example| make_product(clinic) unless example.metadata[:own] }

  def current_visit = Handrail::Store::Visit.where(clinic_id: clinic.id).order(:id).last
  def shown(title) = expect(page).to(have_css("h1", text: title))

  def primary
    tab_to(".bar .button.is-primary")
    keys(:enter)
  end

  def new_patient
    keys("n")
    shown("New patient")
    {
      "#given_name" => "Wilma",
      "#family_name" => "Quarrel",
      "#born_on" => "14 Mar 1961",
      "#record_number" => "K 1"
    }.each { |field, text| fill(field, text) }
    keys(:enter)
    shown("Wilma Quarrel")
  end

  def order
    primary
    shown("New order")
    choose_chip("side", "left")
    choose_chip("fields[compartment]", "medial")
    fill("[name='fields[indication]']", "arthrosis, inner side")
    fill("#prescriber", "Dr Spec")
    fill("#prescribed_on", Handrail::Quantity::Day.write(clinic.today))
    primary
    shown("Left knee unloader, inner side")
    tick("[name=identity]")
    primary
  end

  def read(text, expected)
    expect(page.evaluate_script("document.activeElement.id")).to eq "value"
    taken = record(current_visit).rows(:readings).size
    keys(text, :enter)
    # a place that is read again is the one that was current before: only its row tells that the page goes on
    wait_until { record(current_visit).rows(:readings).size > taken }
    expect(page).to have_no_css(".htmx-request, .htmx-swapping, .htmx-settling")
    expect(page).to have_css(".sites .is-current", text: expected)
  end

  # the calf decides; Enter leads round the other sites and back to it
  def measure
    shown("Calf, 15 cm below mid patella")
    read("36.5", "Knee")
    read("37", "Thigh")
    read("18 3/4 in", "Other side")
    read("36.9", "Calf")
    read("36.7", "Calf")
    expect(page).to have_css(".headline", text: /M.*in 100/)
    primary
  end

  def size
    shown("Why this size")
    expect(page).to have_css(".sheet-lines", text: /Where the strap ends land.*Thigh strap needed/m)
    primary
    expect(page).to have_css(".chosen", text: "M")
    fill("#serial", "K-100")
    primary
  end

  def steps
    shown("Device and side as ordered")
    record(current_visit)
      .fit
      .applying
      .steps
      .each_cons(2) do |step, following|
        shown(record(current_visit).fill(step.title))
        if step.for_good
          tick("[name=sure]")
          keys(:enter)
        else
          keys(:space)
        end
        shown(record(current_visit).fill(following.title))
      end
    keys(:space)
    shown("Look, feel, listen")
  end

  def answer(item, text = nil)
    expect(page).to have_css(".checks .is-current", text: record(current_visit).fill(item.title))
    if item.measured?
      fill("#check-value", text || "3")
      keys(:enter)
    else
      page.execute_script("document.activeElement.blur()")
      keys("y")
    end
    expect(page).to have_no_css(".checks .is-current", text: record(current_visit).fill(item.title))
  end

  def checks
    all =
      record(current_visit)
        .fit
        .checks
        .map(&:first)
        .sort_by
        .with_index { |c, i| [c.final ? 1 : 0, i] }
    all.take_while { |c| c.key != "slip" }.each { |c| answer(c) }
    answer(all.find { |c| c.key == "slip" }, "16")
    expect(page).to have_css("h3", text: "It slides down when walking")
    change
    (item = record(current_visit).fit.checklist.next) && answer(item.check) until record(
      current_visit
    ).fit.checklist.good?
    shown("It fits")
  end

  def change
    tick("[name=remedy]")
    fill("#change-note", "up 20 mm")
    primary
    expect(page).to have_css(".history", text: "up 20 mm")
  end

  def teach
    primary
    shown("Show me")
    tab_to("[data-all-unaided]")
    keyboard.type(:enter)
    primary
    shown("Hand over")
  end

  def hand_over_by_keyboard
    shown("Hand over")
    expect(page).to have_content("Nothing stands in the way")
    primary
    shown("Handed over")
    expect(page).to have_content("received by Wilma Quarrel, not signed")
  end

  def recheck
    visit "/visits/#{current_visit.id}/order"
    tick("[name=identity]")
    primary
    shown("Then and now")
    keyboard.type("35.2", :enter)
    expect(page).to have_css(".then-now", text: "more than measuring error")
    %w[clear good].each do |value|
      tab_to("[name=answer][value=#{value}]")
      keys(:enter)
      expect(page).to have_css("[aria-pressed=true][value=#{value}]")
    end
    (item = record(current_visit).fit.checklist.next) && answer(item.check) until record(
      current_visit
    ).fit.checklist.good?
    primary
    expect(page).to have_content("It stays as it was written")
  end

  describe "from nothing: a link, a clinic, a product with its own chart, the first wearer" do
    # the clinic of whoever the link let in
    let(:senior) { Handrail::Store::Account.where(email: "ada@from-nothing.example").first }
    let(:clinic) { senior.clinic }

    before { |example| set_up_by_link if example.metadata[:own] }

    def set_up_by_link
      visit "/set-up/#{Handrail::Store::SetUp.link}"
      {
        "name" => "Gull Lane",
        "place" => "Port Anselm",
        "person" => "Ada Quill",
        "email" => "ada@from-nothing.example",
        "password" => Fixtures::PASSWORD,
        "again" => Fixtures::PASSWORD
      }.each { |field, text| fill_in field, with: text }
      click_button(class: "is-primary")
      sign_in(senior)
      expect(page).to have_css(".first-steps", text: "A new clinic")
    end

    def product
      visit "/catalogue/new?family=knee_unloader"
      fill_in "maker", with: "Gannet"
      fill_in "name", with: "unloader"
      click_button "Add the product"
      shown("Gannet unloader")
    end

    # the empty chart asks for the family's sites; the calf decides here
    def own_chart
      visit "#{page.current_path}/chart"
      { "S" => %w[32 35.4], "M" => %w[35.5 37.5], "L" => %w[37.6 41] }.each do |size, (min, max)|
        row =
          all(".chart-rows tbody tr").find do |one|
            one.find("[aria-label^=size]").value == size &&
              one.find("[aria-label^=site]").value == CoreHelpers::CALF
          end
        row.find("[aria-label^=min]").set(min)
        row.find("[aria-label^=max]").set(max)
      end
      click_button "Put in force"
      expect(page).to have_css("h2", text: "Chart of")
    end

    it "comes to the first device handed over, without help", :own do
      product
      own_chart
      visit "/"
      new_patient
      order
      measure
      size
      steps
      checks
      teach
      hand_over_by_keyboard
      expect(record(current_visit).sizing.device).to include(serial: "K-100", size: "M")
    end
  end

  it "goes from a new patient to a closed recheck without the mouse" do
    sign_in(fitter)
    new_patient
    order
    measure
    size
    steps
    checks
    teach
    hand_over_by_keyboard
    recheck
    fitting = Handrail::Store::Fitting.where(clinic_id: clinic.id).first
    records = Handrail::Store::Visits.load(clinic, fitting.visits)
    expect(records.map { |r| [r.purpose, r.closed?, r.plan_key] }).to eq [
         ["first", true, nil],
         ["recheck", true, "early"],
         # held on the day of the hand-over it stands for none that is planned
         ["recheck", false, "early"]
       ]
    expect(records.first.fit.changes.map(&:remedy)).to eq ["reseat_calf_strap"]
    expect(records.first.sizing.device).to include(serial: "K-100", size: "M")
  end
end

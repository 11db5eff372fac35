# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# What was written and should not stand, or stands beside what it does not go with, by hand: an order, a stop sign, a
# figure, a record, a device.
RSpec.describe "What can be taken back" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic, "senior") }
  let(:job) { make_visit(clinic, fitter) }
  let(:patient) { job.fitting.patient }

  before { sign_in(fitter) }

  def amend
    visit "/visits/#{job.id}/order"
    click_link "Correct, move or withdraw this order"
  end

  it "an order of the wrong side is corrected, and says so where it goes on" do
    amend
    find("#correct .chip", text: /\ARight/i).click
    fill_in "correct-why", with: "the letter says right"
    click_button "Correct the order"
    expect(page).to have_css("#bench[data-stage=order]")
    expect(page).to have_css(".who", text: /right knee unloader/)
    expect(record(job).side).to eq "right"
  end

  it "an order in the wrong record is moved, and each names the other" do
    other = make_patient(clinic, fitter, given_name: "Zoe", record_number: "HQ 0412")
    amend
    fill_in "record", with: "HQ0412"
    fill_in "move-why", with: "the twin sister"
    click_button "Move the order"
    expect(page).to have_content("Moved here from record #{patient.record_number}")
    expect(page).to have_current_path("/patients/#{other.id}")
    visit "/patients/#{patient.id}"
    expect(page).to have_content("Moved to record HQ 0412")
  end

  it "an order that should not be there is withdrawn, struck and on no list" do
    amend
    fill_in "withdraw-why", with: "ordered twice"
    click_button "Withdraw the order"
    expect(page).to have_css("s", text: "Left knee unloader, inner side")
    expect(page).to have_content("ordered twice")
    visit "/"
    expect(page).to have_no_content(patient.name)
  end

  it "a stop sign that was tapped by mistake is gone, and kept in the record" do
    ask(job, fitter, stops: %w[chest])
    visit "/visits/#{job.id}/order"
    find("summary", text: "It was tapped by mistake").click
    fill_in "mistake-chest", with: "meant the row below"
    click_button "Take it back"
    expect(page).to have_no_css("summary", text: "It was tapped by mistake")
    expect(record(job).safety.stops).to be_empty
    visit "/visits/#{job.id}/record"
    expect(page).to have_content("meant the row below")
  end

  it "figures of a closed visit that are put right into another size are said on the board" do
    worn =
      handed_over_visit(clinic, fitter, patient: patient, despite: "another leg's, for the spec")
    visit "/visits/#{worn.id}/record"
    expect(page).to have_content("Identity confirmed by two identifiers").and have_content(
            "Asked by"
          )
    2.times do
      first(".record-rows li:not(.is-struck) summary", text: "Correct").click
      within(first(".record-rows details[open]")) do
        fill_in "value", with: "38.5"
        fill_in "why", with: "read the wrong line"
        click_button "Add the correction"
      end
      expect(page).to have_css(".record-rows .is-struck", text: "read the wrong line")
    end
    visit "/"
    expect(page).to have_content("Size M is worn").and have_content("it would be size L")
  end

  it "a check of a closed visit that was not good after all is said wherever the wearer is met" do
    worn =
      handed_over_visit(clinic, fitter, patient: patient, despite: "another leg's, for the spec")
    row =
      record(worn)
        .rows(:check_results)
        .find do |one|
          check = record(worn).family.check(one[:check_key])
          !check.measured? && check.ways.to_a.empty?
        end
    run(worn, fitter, :CorrectCheck, corrects: row[:id].to_s, outcome: "bad", why: "the other leg")
    said = /as it was put right on .*, it was not good\. Look at it again/
    ["/", "/patients/#{patient.id}", "/visits/#{record(worn).visits.last.id}/order"].each do |path|
      visit path
      expect(page).to have_content(said)
    end
  end

  it "somebody who is there already is named while they are typed" do
    there = patient
    visit "/patients/new"
    fill_in "given_name", with: there.given_name
    fill_in "family_name", with: there.family_name
    fill_in "born_on", with: "14 Mar 1961"
    keys(:tab)
    expect(page).to have_css("#same", text: "may be the same person")
    expect(page).to have_link(href: "/patients/#{there.id}")
  end

  it "two records of one person are joined, and parted again" do
    other = make_patient(clinic, fitter, given_name: "Zoe", record_number: "HQ 0412")
    visit "/patients/#{patient.id}"
    find("summary", text: "The same person has another record").click
    fill_in "join-into", with: "HQ 0412"
    fill_in "join-why", with: "married, the same date of birth"
    click_button "Join them"
    expect(page).to have_current_path("/patients/#{other.id}")
    expect(page).to have_content("is joined into this one").and have_content("knee unloader")
    visit "/patients/#{patient.id}"
    click_button "They are two persons: part them"
    expect(page).to have_css("summary", text: "The same person has another record")
    expect(patient.refresh.joined_into_id).to be_nil
  end

  describe "beside another device of the same wearer" do
    let(:second) do
      make_visit(clinic, fitter, patient: patient, despite: "one for work, one for sport")
    end

    it "an order that does not go with it is refused, with all that was typed, until it is said why" do
      job
      visit "/patients/#{patient.id}/orders/new?family=knee_unloader"
      find("label.chip", text: /\AMedial|\AInner/i).click
      find("label.chip", text: /\ALeft/i).click
      fill_in "fields[indication]", with: "arthrosis"
      fill_in "prescriber", with: "Dr Spec"
      fill_in "prescribed_on", with: clinic.today.iso8601
      click_button "Write the order"
      expect(page).to have_css("[role=alert], .fault", text: /Say why both/)
      expect(find_field("fields[indication]").value).to eq "arthrosis"
      fill_in "despite", with: "one for work, one for sport"
      click_button "Write the order"
      expect(page).to have_css("#bench[data-stage=order]")
      expect(patient.refresh.fittings.size).to eq 2
    end

    it "what was read today for the one is taken for the other by a tap, and each links the other" do
      [job, second].each { |one| ask(one, fitter) }
      item = record(second).needs.first
      take(
        job,
        fitter,
        "36.4",
        site: item.site.key,
        side: item.side,
        posture: item.posture,
        tension: item.tension
      )
      visit "/visits/#{second.id}/measure?at=#{item.key}"
      find(".from-device button", text: /Take 36.4 cm, read \d\d:\d\d for the left knee/).click
      expect(page).to have_css(".taken, .readings, #bench", text: "36.4")
      expect(record(second).readings_of(item).map { |row| row[:typed] }).to eq ["36.4"]
      visit "/visits/#{second.id}/order"
      expect(page).to have_content("Also today: left knee unloader")
    end
  end
end

# frozen_string_literal: true

require "browser_helper"
require "base64"

# What follows on the fitting, by hand: another size at a recheck, a visit planned over the night on which the
# clocks change, a wearer who goes from one clinic to another.
RSpec.describe "What follows, in a browser" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  it "a recheck that re-sizes: one tap, the new device written down, the old one put away" do
    later = record(handed_over_visit(clinic, fitter)).visits.last
    ask(later, fitter)
    2.times do
      take(later, fitter, "39.5")
      confirm(later, fitter)
    end
    sign_in(fitter)
    visit "/visits/#{later.id}/recheck"
    expect(page).to have_content("It was fitted in M.")
    expect(page).to have_content(/the one that is worn is put away/i)
    click_button "Re-size to L"
    expect(page).to have_css(".chosen", text: "L")
    find("[name=serial]").set("L-77")
    click_button "Write it down, go on"
    wait_until { record(later).sizing.device("left")[:serial] == "L-77" }
    devices = record(later).visits.flat_map { |row| record(row).rows(:issued_devices) }
    expect(devices.map { |row| [row[:size], row[:ended_why]] }).to eq [%w[M replaced], ["L", nil]]
    # another device is looked at from the beginning
    visit "/visits/#{later.id}/fit"
    expect(record(later).fit.checklist.items.filter_map(&:result)).to be_empty
    expect(axe).to be_empty
  end

  # Europe/London goes from 01:00 to 02:00 on 28 Mar 2027 (IANA tz database: last Sunday of March)
  it "a visit over the night on which the clocks change: no hour that is not there, the right one after it" do
    planned = make_visit(clinic, fitter)
    sign_in(fitter)
    visit "/visits/#{planned.id}/book"
    fill_in "day", with: "28 Mar 2027"
    fill_in "time", with: "01:30"
    click_button "Book it"
    expect(page).to have_css("[role=alert], .fault", text: /clock/i)
    expect([find("#day").value, find("#time").value]).to eq ["28 Mar 2027", "01:30"]
    expect(planned.refresh.planned_for).to be_nil
    # the day before it is winter time, the day itself from two on summer time
    {
      "27 Mar 2027" => "2027-03-27 09:00:00",
      "28 Mar 2027" => "2027-03-28 08:00:00"
    }.each do |day, utc|
      visit "/visits/#{planned.id}/book"
      fill_in "day", with: day
      fill_in "time", with: "09:00"
      find("form button.is-primary, .bar button.is-primary").click
      wait_until { planned.refresh.planned_for&.utc&.strftime("%F %T") == utc }
    end
    visit "/week?on=2027-03-28"
    expect(page).to have_css(".booked", text: "09:00")
  end

  it "a wearer goes as one file from one clinic into another, with every reading that counts" do
    worn = handed_over_visit(clinic, fitter)
    wearer = worn.fitting.patient
    sign_in(fitter)
    visit "/patients/#{wearer.id}"
    sent = page.evaluate_async_script(<<~JS)
      const done = arguments[0];
      const button = document.querySelector("[formaction$='/bundle']");
      const body = new URLSearchParams(new FormData(button.form));
      fetch(button.getAttribute("formaction"), { method: "POST", body })
        .then((answer) => answer.blob())
        .then((blob) => {
          const reader = new FileReader();
          reader.onload = () => done(reader.result);
          reader.readAsDataURL(blob);
        });
    JS
    path = File.join(Dir.tmpdir, "wearer-#{Process.pid}.zip")
    File.binwrite(path, Base64.decode64(sent.split(",").last))
    there = make_clinic
    Capybara.reset_sessions!
    sign_in(make_account(there))
    visit "/patients/bundle"
    attach_file "file", path
    click_button "Look at it first"
    expect(page).to have_css("[role=status]", text: /One patient and .* can be brought in/)
    click_button "Bring them in"
    expect(page).to have_no_button("Bring them in")
    found = Handrail::Store::Patient.where(clinic_id: there.id, practice: false).all
    expect(found.map(&:record_number)).to eq [wearer.record_number]
    kept = Handrail::Store.db[:earlier_readings].where(clinic_id: there.id)
    was = record(worn).usable_readings.map { |row| row[:value_mm] }
    expect(kept.select_map(:value_mm).sort).to eq was.uniq.sort
  ensure
    FileUtils.rm_f(path) if path
  end
end

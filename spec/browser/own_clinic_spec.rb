# frozen_string_literal: true

require "browser_helper"
require "rotp"
require "tempfile"

# A clinic of its own from nothing, in the browser, as its first senior and its first fitter see it.
RSpec.describe "A clinic of its own" do
  let(:clinic) { make_clinic }
  let(:senior) { make_account(clinic, "senior") }
  let(:fitter) { make_account(clinic) }
  let(:password) { "three boats at low tide" }

  def make_own(email)
    visit "/set-up/#{Handrail::Store::SetUp.link}"
    fill_in "name", with: "Gull Lane"
    fill_in "place", with: "Port Anselm"
    fill_in "person", with: "Ada Quill"
    fill_in "email", with: email
    fill_in "password", with: password
    fill_in "again", with: "another"
    click_button(class: "is-primary")
    expect(page).to have_css(".fault", text: "not the same")
    expect(page).to have_field("name", with: "Gull Lane")
    fill_in "password", with: password
    fill_in "again", with: password
    click_button(class: "is-primary")
  end

  def enter(email, secret)
    visit "/login"
    fill_in "login", with: email
    fill_in "password", with: secret
    click_button "Sign in"
  end

  it "is set up by a link, says what to do first, and has a patient to practise on" do
    email = "ada-#{SecureRandom.hex(3)}@gull.example"
    make_own(email)
    enter(email, password)
    expect(page).to have_css(".first-steps", text: "A new clinic")
    visit "/patients"
    click_button "Practice patient"
    expect(page).to have_css(".practice-mark", text: "counts nowhere")
    expect(axe).to be_empty
    visit "/settings"
    expect(axe).to be_empty
  end

  it "keeps what was typed on the set-up page through a reload, and no password" do
    visit "/set-up/#{Handrail::Store::SetUp.link}"
    fill_in "name", with: "Gull Lane"
    fill_in "email", with: "ada@gull.example"
    fill_in "password", with: password
    page.refresh
    expect(page).to have_field("name", with: "Gull Lane").and have_field(
            "email",
            with: "ada@gull.example"
          ).and have_field("password", with: "")
    kept = page.evaluate_script("JSON.stringify(localStorage)")
    expect(kept).to include("Gull Lane")
    expect(kept).not_to include(password)
  end

  it "opens a long form that was refused at the first field that is wrong" do
    sign_in(senior)
    visit "/settings/safety"
    fill_in "word_recheck", with: "nobody@elsewhere.example"
    click_button "Save"
    expect(page).to have_css(".notice", text: "One field needs a look. Nothing you typed is lost.")
    expect(page).to have_css("#word_recheck:focus")
    expect(find_by_id("word_recheck").value).to eq "nobody@elsewhere.example"
  end

  it "invites somebody who joins, gives a link to a new password, and closes the account: its page is shut at once" do
    sign_in(senior)
    visit "/people"
    expect(axe).to be_empty
    email = "lou-#{SecureRandom.hex(3)}@spec.example"
    fill_in "email", with: email
    click_button "Make the link"
    link = URI(find(".one-time input").value).path
    Capybara.using_session(:lou) do
      visit link
      fill_in "name", with: "Lou Tern"
      fill_in "password", with: password
      fill_in "again", with: password
      click_button(class: "is-primary")
      enter(email, password)
      expect(page).to have_css("h1", text: "Today")
    end
    visit "/people"
    within(find("tr", text: "Lou Tern")) { click_button "New password" }
    expect(page).to have_css(".one-time", text: "new password, for Lou Tern")
    again = URI(find(".one-time input").value).path
    visit "/people"
    within(find("tr", text: "Lou Tern")) do
      find("summary").click
      click_button "Close the account of Lou Tern"
    end
    expect(page).to have_css("tr", text: /Lou Tern.*closed/m)
    Capybara.using_session(:lou) do
      visit "/patients"
      expect(page).to have_css("h1", text: "Sign in")
      visit again
      expect(page).to have_text("used already, or is too old")
    end
  end

  it "switches one-time codes on from the picture's key, and asks for one at the next sign-in" do
    sign_in(fitter)
    visit "/me"
    click_link "Switch them on"
    expect(page).to have_css(".code-picture svg")
    expect(axe).to be_empty
    codes = ROTP::TOTP.new(find(".sheet-of-paper code").text.delete(" "))
    fill_in "password", with: Fixtures::PASSWORD
    fill_in "otp", with: codes.now
    click_button "Switch codes on"
    expect(page).to have_css("h1", text: "Ways back in")
    Handrail::Store.db[:account_otp_keys].where(id: fitter.id).update(last_use: Time.now - 120)
    Capybara.reset_sessions!
    enter(fitter.email, Fixtures::PASSWORD)
    expect(page).to have_css("h1", text: "One-time code")
    expect(axe).to be_empty
    fill_in "otp", with: codes.now
    click_button "Go on"
    expect(page).to have_css("h1", text: "Today")
  end

  it "brings patients in from a file, names its faults by line, and takes them back as one" do
    sign_in(senior)
    bring =
      lambda do |rows|
        Tempfile.create(%w[patients .csv]) do |file|
          file.write("#{Handrail::Exchange::PatientsFile::EXAMPLE.lines.first}#{rows}")
          file.flush
          visit "/patients/bring"
          attach_file "file", file.path
          click_button "Look at it first"
        end
      end
    head = Handrail::Exchange::PatientsFile::EXAMPLE.lines.first.strip.split(",")
    row =
      lambda do |number, born|
        head
          .map do |name|
            {
              "record_number" => number,
              "given_name" => "Ira",
              "family_name" => "Wren",
              "born_on" => born
            }[
              name
            ]
          end
          .join(",")
      end
    bring.call("#{row["R 1", "1970-02-30"]}\n")
    expect(page).to have_text("line 2").or have_text("Line 2")
    bring.call("#{row["R 1", "1970-02-03"]}\n#{row["R 2", "1970-02-03"]}\n")
    expect(page).to have_button("Bring them in")
    expect(Handrail::Store::Patient.where(clinic_id: clinic.id).count).to eq 0
    find("form[action='/patients/bring/all'] button").click
    expect(page).to have_css("form[action='/patients/bring/back']")
    expect(Handrail::Store::Patient.where(clinic_id: clinic.id).count).to eq 2
  end

  it "lets one's own key do the work, and the old one nothing" do
    made = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
    Handrail::Store::People.change_keys(fitter, { "unit" => "e" })
    sign_in(fitter)
    visit "/visits/#{made.id}/measure"
    unit = -> { find(".strip .unit").text }
    before = unit.call
    keys("u")
    expect(find("#value").value).to eq("u").or eq("")
    page.execute_script(
      "document.getElementById('value').value = ''; document.activeElement.blur()"
    )
    keys("e")
    expect(page).to have_no_css(".strip .unit", exact_text: before)
  end

  it "asks for the password again before it closes an account, when it was shown long ago" do
    fitter
    sign_in(senior)
    allow(Time).to(receive(:now).and_wrap_original { |now, *how| now.call(*how) + 700 })
    visit "/people"
    within(find("tr", text: fitter.name)) { click_button "New password" }
    expect(page).to have_css("#own_password-fault", text: "more than ten minutes")
    fill_in "own_password", with: Fixtures::PASSWORD
    click_button "It is me"
    expect(page).to have_no_css("#confirm")
  end
end

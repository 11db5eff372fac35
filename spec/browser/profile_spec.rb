# frozen_string_literal: true

require "browser_helper"
require_relative "../support/faulty_line"
require_relative "../support/own_browser"

# What a browser's profile on the disk holds: everything that was said to be kept, through a browser that is
# killed; and after a sign-out no name and no figure in clear.
RSpec.describe "A browser's profile" do
  include_context "with a faulty line"
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:patient) do
    make_patient(clinic, fitter, given_name: "Zephyrine", family_name: "Quillfeather")
  end
  let(:fitting_visit) do
    make_visit(clinic, fitter, patient: patient).tap { |made| ask(made, fitter) }
  end
  let(:own) { OwnBrowser.new }

  after { own.forget }

  # What is done in a browser on this profile: it is killed then, or ends as one that is closed.
  def browser(killed: false)
    Capybara.using_session(own.session) { yield own.session }
    killed ? own.kill : own.close
  end

  def readings = record(fitting_visit).rows(:readings).map { |row| row[:typed] }

  # files of the profile that hold a text, in either of the encodings that browsers use
  def holding(text)
    wanted = [text, text.encode("UTF-16LE")].map { |one| one.dup.force_encoding("BINARY") }
    Dir[File.join(own.folder, "**", "*")].select do |path|
      File.file?(path) && wanted.any? { |one| File.binread(path).include?(one) }
    end
  end

  it "has what was said to be kept, after the browser was killed at that moment" do
    browser(killed: true) do
      sign_in(fitter)
      visit "/visits/#{fitting_visit.id}/measure"
      line.is(:down)
      keys("36.5", :enter)
      expect(page).to have_css(".waits", text: "36.5 cm")
    end
    line.is(:good)
    browser do
      sign_in(fitter)
      wait_until { readings == %w[36.5] }
    end
  end

  it "holds no name and no figure in clear after a sign-out with entries left" do
    browser do
      sign_in(fitter)
      visit "/visits/#{fitting_visit.id}/measure"
      line.is(:down, only: %r{POST /visits| /line})
      keys("36.5173", :enter)
      expect(page).to have_css(".waits", text: "36.5173 cm")
      visit "/visits/#{fitting_visit.id}/skin"
      page.find_by_id("word-wants").set("to fly to Zanzibarland")
      page.find_by_id("find").set("Quillfeather")
      page.execute_script("document.querySelector('.find').requestSubmit()")
      expect(page).to have_css("h1", text: "Patients found for “Quillfeather”")
      click_link "Zephyrine Quillfeather"
      expect(page).to have_css(".patient", text: "Quillfeather")
      visit "/visits/#{fitting_visit.id}/measure"
      click_on "Sign out"
      click_on "Leave them for me"
      expect(page).to have_css("#waiting", text: "1 entry waits on this machine")
    end
    expect(holding("handrail")).not_to be_empty
    found = %w[Zephyrine Quillfeather 36.5173 Zanzibarland].to_h { |text| [text, holding(text)] }
    expect(found.reject { |_, files| files.empty? }).to be_empty
  end
end

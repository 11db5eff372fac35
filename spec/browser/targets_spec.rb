# frozen_string_literal: true

require "browser_helper"
require_relative "../support/whole_jobs"

# On a tablet everything that is tapped is at least 44 px high (WCAG 2.5.5); links in the middle of a sentence and
# visits drawn to the hour are as high as their line.
RSpec.describe "Targets for a finger" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:low) { <<~JS }
    (() => [...document.querySelectorAll(
        "button, .button, input:not([type=hidden]), select, textarea, summary, label.tick, label.chip, .places a, " +
        ".slips a, .sites a, .doors a, .beside-work a, .look-up")]
      .filter((one) => one.getClientRects().length && !one.closest(".unseen") && !one.matches(".unseen"))
      .map((one) => {
        const box = (one.matches("[type=radio], [type=checkbox]") ? one.closest("label") || one : one).getBoundingClientRect();
        const more = one.matches(".look-up") ? 22 : 0;
        return [one.outerHTML.slice(0, 90), Math.round(box.height + more)];
      })
      .filter(([, high]) => high < 44))()
  JS

  before { page.driver.resize(820, 1180) }
  after { page.driver.resize(1280, 800) }

  it "are high enough from the board to the record" do
    sign_in(fitter)
    job = sized_job("knee_unloader", make_product(clinic))
    fresh = make_visit(clinic, fitter)
    paths = [
      "/",
      "/patients/new",
      "/me",
      "/visits/#{fresh.id}/order",
      "/patients/#{fresh.fitting.patient_id}"
    ]
    paths += %w[measure size fit skin line].map { |stage| "/visits/#{job.id}/#{stage}" }
    paths.each do |path|
      visit path
      expect([path, page.evaluate_script(low)]).to eq [path, []]
    end
    finish_steps(job, fitter)
    look_at_all(job, fitter)
    visit "/visits/#{job.id}/teach"
    expect(page.evaluate_script(low)).to eq []
    teach(job, fitter)
    visit "/visits/#{job.id}/hand-over"
    expect(page.evaluate_script(low)).to eq []
    hand_over(job, fitter)
    later = record(job).visits.last
    ask(later, fitter)
    ["/visits/#{job.id}/record", "/visits/#{later.id}/recheck"].each do |path|
      visit path
      expect([path, page.evaluate_script(low)]).to eq [path, []]
    end
  end
end

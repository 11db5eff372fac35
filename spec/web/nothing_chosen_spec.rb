# frozen_string_literal: true

require "web_helper"
require "nokogiri"

# A change to a device is somebody's choice: the page proposes, and takes nothing that nobody chose.
RSpec.describe "A change that nobody chose", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:job) { sized_visit(clinic, fitter) }
  let(:page) { "/visits/#{job.id}/fit" }

  before do
    finish_steps(job, fitter)
    look(job, fitter, "slip", value: "22 mm")
    sign_in(fitter)
  end

  def chosen = Nokogiri.HTML(html).css("[name=remedy][checked]").map { |one| one["value"] }

  it "is not made by the button alone, and keeps what was written beside it" do
    get page
    expect(html).to include 'name="remedy"'
    expect(chosen).to be_empty
    send_form(
      "/visits/#{job.id}/changes",
      from: page,
      problem: "slides_down",
      side: "left",
      note: "by 20 mm"
    )
    expect([last_response.status, text]).to match [422, /Choose what to change/]
    expect(html).to include 'value="by 20 mm"'
    expect(chosen).to be_empty
    expect(record(job).rows(:changes)).to be_empty
  end
end

# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

# Measured on paper: a sheet to fill in with a pen, and what was read typed in afterwards with its own hour and reader.
RSpec.describe "Measured on paper", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:colleague) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }
  let(:store) { Handrail::Store }

  before { sign_in(fitter) }

  # typed in at the bench; time - "14:20"
  def type(value = "36.5", **more)
    send_form(
      "/visits/#{visit.id}/readings",
      from: "/visits/#{visit.id}/measure",
      site: CoreHelpers::CALF,
      side: "left",
      value: value,
      unit: "cm",
      **more
    )
  end

  def hour(ago) = clinic.local(store.now - ago).strftime("%H:%M")
  def day(ago) = Handrail::Quantity::Day.write(clinic.local(store.now - ago).to_date)

  Handrail::Families::Registry.all.each_key do |family|
    it "prints a sheet of #{family.tr("_", " ")}: who, what is asked first, each site with room for two readings" do
      made = order(demo_product(family))
      get "/visits/#{made.id}/measuring-sheet"
      expect(last_response.status).to eq 200
      now = record(made)
      expect(text).to include now.patient.name, now.patient.record_number, "born"
      expect(last_response.body.scan("<span>2nd <b>").size).to eq now.needs.size
      expect(text).to include(*now.family.stop_signs.first(3).map { |sign| sign.text.squeeze(" ") })
    end
  end

  it "keeps when and by whom it was read, and says so wherever the reading stands" do
    type(read_time: hour(7200), read_on: day(7200), read_by: colleague.id)
    row = record(visit).rows(:readings).last
    expect(row[:read_by]).to eq colleague.id
    expect(row[:read_at]).to be_within(60).of(store.now - 7200)
    expect(row[:by]).to eq fitter.id
    said = /read on paper (\S+ \S+ )?#{hour(7200)} by #{colleague.name}, typed in/
    get "/visits/#{visit.id}/measure?at=#{CoreHelpers::CALF}:left"
    expect(text).to match said
    get "/visits/#{visit.id}/record"
    expect(text).to match said
    expect(record(visit).events.last[:said]).to include "read on paper on"
  end

  it "stays for the next reading, until it is emptied" do
    type(read_time: hour(7200), read_on: day(7200), read_by: colleague.id)
    follow_redirect! if last_response.redirect?
    expect(last_response.body).to match(/name="read_time" value="#{hour(7200)}"/)
    expect(last_response.body).to match(/value="#{colleague.id}" selected/)
  end

  it "takes no hour that has not come, none without its hour, none too long ago, and nobody of another clinic" do
    stranger = make_account(make_clinic)
    {
      { read_time: hour(-7200), read_on: day(-7200) } => "has not come",
      { read_on: day(0) } => "hour at which",
      { read_time: "nonsense" } => "no time of day",
      { read_time: "09:00", read_on: day(40 * 86_400) } => "31 days ago",
      { read_time: hour(7200), read_on: day(7200), read_by: stranger.id } => "Choose somebody"
    }.each do |given, why|
      type(**given)
      expect(last_response.status).to eq 422
      expect(text).to include why
      expect(last_response.body).to include 'value="36.5"'
    end
    expect(record(visit).rows(:readings)).to eq []
  end
end

# frozen_string_literal: true

require "store_helper"

# A time zone that is changed asks what becomes of the visits that are booked.
RSpec.describe "A changed time zone", :rolled_back do
  store = Handrail::Store

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:days) { (1..3).map { |n| clinic.today + n } }
  let!(:visits) do
    days.each_with_index.map do |day, n|
      make_visit(clinic, fitter).tap { |visit| book(visit, day, "#{9 + n}:30") }
    end
  end

  def book(visit, day, time) =
    run(visit, fitter, :BookVisit, day: day.iso8601, time: time, anyway: "yes", minutes: "60")

  def change(zone, **more)
    fresh = Handrail::Store::Clinic[clinic.id]
    form =
      Handrail::Store::ClinicValues.of(fresh).merge(
        "time_zone" => zone,
        "seen" => Handrail::Store::ClinicValues.digest(fresh),
        "bedside_routine" => "yes",
        **more.transform_keys(&:to_s)
      )
    desk(fresh, senior).run(Handrail::Store::Commands::ChangeSettings.new(form))
  end

  def times
    now = Handrail::Store::Clinic[clinic.id]
    visits.map { |visit| now.local(visit.refresh.planned_for).strftime("%H:%M") }
  end

  it "is not taken before it is said what becomes of them, and names them" do
    number = record(visits.first).patient.record_number
    expect { change("Asia/Tokyo") }.to raise_error(store::Faults) { |error|
      expect(error.fields["booked"]).to match(/3 visits are booked: #{number}, .*, 09:30; /)
    }
    expect(clinic.refresh.time_zone).to eq "Europe/London"
  end

  it "keeps the time of day where that is wanted, in the story of each, and tells nobody anew" do
    said = store.db[:messages].where(clinic_id: clinic.id).count
    %w[Asia/Tokyo America/New_York Europe/London].each do |zone|
      change(zone, booked: "clock")
      expect([zone, times]).to eq [zone, %w[09:30 10:30 11:30]]
    end
    expect(record(visits.first).events.last[:said]).to match(
      %r{kept at .*, 09:30, in Europe/London instead of America/New_York}
    )
    expect(visits.map { |visit| visit.refresh.planned_to - visit.planned_for }).to all eq 3600
    expect(store.db[:messages].where(clinic_id: clinic.id).count).to eq said
  end

  it "keeps the moment where that is wanted" do
    before = visits.map { |visit| visit.refresh.planned_for }
    change("Asia/Tokyo", booked: "moment")
    expect(visits.map { |visit| visit.refresh.planned_for }).to eq before
    said = store.db[:entries].where(clinic_id: clinic.id, command: "change_settings").get(:said)
    expect(said).to include "booked visits keep the moment"
  end

  it "asks nothing where nothing is booked, or the zone stays" do
    change("Europe/London", phone: "44")
    visits.each { |visit| run(visit, fitter, :MissVisit, why: "cancelled") }
    change("Asia/Tokyo")
    expect(clinic.refresh.time_zone).to eq "Asia/Tokyo"
  end
end

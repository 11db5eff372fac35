# frozen_string_literal: true

require "store_helper"

# A girth that was read today for one device is not read again for the other.
RSpec.describe "Readings of the same day for a second device", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:patient) { make_patient(clinic, fitter) }
  let(:one) { make_visit(clinic, fitter, patient: patient).tap { |made| ask(made, fitter) } }
  let(:other) { make_visit(clinic, fitter, patient: patient).tap { |made| ask(made, fitter) } }
  let(:item) do
    record(other).needs.find { |need| need.site.key == CoreHelpers::CALF && need.side == "left" }
  end

  def beside = record(other).read_beside(item)

  def take_over(row, **changes) =
    take(
      other,
      fitter,
      row[:typed],
      same_as: row[:id].to_s,
      posture: row[:posture],
      tension: row[:tension],
      **changes
    )

  it "are offered once, and say where they are from" do
    take(one, fitter, "36.4", posture: item.posture, tension: item.tension)
    row = beside.first
    expect([row[:typed], row[:title]]).to eq ["36.4", "left knee unloader, inner side"]
    taken = take_over(row)
    expect([taken[:same_as_id], beside]).to eq [row[:id], []]
    expect(record(other).events.last[:said]).to match(
      /36.4 cm, read at \d\d:\d\d for the left knee unloader/
    )
  end

  it "are not offered of another posture, struck out, in question, of yesterday, or of another wearer" do
    standing =
      (Handrail::Anatomy::Vocabulary.default[CoreHelpers::CALF].postures - [item.posture]).first
    take(one, fitter, "36.1", posture: standing, tension: item.tension) if standing
    struck = take(one, fitter, "36.4", posture: item.posture, tension: item.tension)
    run(one, fitter, :StrikeReading, row: struck[:id].to_s, reason: "slipped")
    take(one, fitter, "14", posture: item.posture, tension: item.tension)
    expect(beside).to eq []
    store.at(store.now + (2 * 86_400)) { expect(beside).to eq [] }
    foreign = make_visit(clinic, fitter)
    ask(foreign, fitter)
    take(foreign, fitter, "36.4")
    expect(beside).to eq []
  end

  it "are not taken once they were struck out meanwhile, nor with another figure" do
    take(one, fitter, "36.4", posture: item.posture, tension: item.tension)
    row = beside.first
    expect { take_over(row, unit: "cm").then { take_over({ **row, typed: "37" }) } }.to raise_error(
      store::Unacceptable,
      /meanwhile/
    )
    run(one, fitter, :StrikeReading, row: row[:id].to_s, reason: "slipped")
    expect { take_over(row) }.to raise_error(store::Unacceptable, /meanwhile/)
  end
end

# frozen_string_literal: true

require "store_helper"

# Two records of one person, joined and parted again.
RSpec.describe "Records joined", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:senior) { make_account(clinic, "senior") }
  let(:worn) { handed_over_visit(clinic, fitter) }
  let(:double) { store::Patient[record(worn).patient.id] }
  let!(:right) { make_patient(clinic, fitter, record_number: "HQ 0412") }

  def command(name, **words) =
    desk(clinic, senior).run(
      Handrail::Store::Commands.const_get(name).new(words.transform_keys(&:to_s))
    )
  def join(from = double, into = right) =
    command(
      :JoinRecords,
      from: from.id,
      into: into.record_number,
      why: "written down twice, asked her"
    )
  def part(from = double) = command(:PartRecords, from: from.id)

  # every row of the clinic that may have moved
  def rows
    %i[
      fittings
      prescriptions
      earlier_readings
      visits
      visit_summaries
      open_stops
      fitting_dues
      messages
    ].to_h do |table|
      [table, Handrail::Store.db[table].where(clinic_id: clinic.id).all.map(&:to_a).sort_by(&:to_s)]
    end
  end

  def fittings_of(patient) = Handrail::Store::Fitting.where(patient_id: patient.id).select_map(:id)

  it "go over whole, and are found under one record alone" do
    worn
    command(:JoinRecords, from: double.id, into: "hq  0412", why: "written down twice, asked her")
    expect([fittings_of(double), fittings_of(right)]).to eq [[], [worn.fitting_id]]
    expect(record(worn).patient.id).to eq right.id
    found = store::Find.patients(clinic, "quarrel").map(&:id)
    expect([found.include?(double.id), found.include?(right.id)]).to eq [false, true]
    expect { make_visit(clinic, fitter, patient: double.refresh) }.to raise_error(
      store::Faults,
      /joined into another/
    )
  end

  it "are parted again, row by row as before; what was ordered since stays" do
    worn
    before = rows
    join
    part
    expect(rows).to eq before
    join(double.refresh, right.refresh)
    since = make_visit(clinic, fitter, patient: right.refresh, side: "right")
    part
    expect([fittings_of(double), fittings_of(right)]).to eq [[worn.fitting_id], [since.fitting_id]]
  end

  it "take a stop with them, and have an identity of another name confirmed anew" do
    open =
      make_visit(clinic, fitter, patient: double.tap { |one| one.update(given_name: "Willma") })
    ask(open, fitter)
    take(open, fitter, "36.5")
    join
    expect(record(open).gates.before(:take_reading).map(&:code)).to include :identity_changed
    part
    expect(record(open).gates.before(:take_reading)).to eq []
  end

  it "hold each other's devices by a stop, and neither once they are parted" do
    stopped = make_visit(clinic, fitter, patient: double)
    ask(stopped, fitter, stops: ["chest"])
    other = make_visit(clinic, fitter, patient: right, side: "right")
    ask(other, fitter)
    held = -> { record(other).gates.before(:take_reading).map(&:code) }
    expect(held.call).to eq []
    join
    expect(held.call).to eq [:stop]
    part
    expect(held.call).to eq []
  end

  it "rest where the record that stays is at rest, and are due again once they are parted" do
    worn
    words = {
      patient: right.id,
      rest: "moved_away",
      on: clinic.today.iso8601,
      said: "the daughter"
    }
    desk(clinic, senior).run(store::Commands::RestPatient.new(words.transform_keys(&:to_s)))
    later = record(worn).visits.last
    resting = -> { Handrail::Store::Visit[later.id].resting }
    join(double, right.refresh)
    expect(resting.call).to be true
    part
    expect(resting.call).to be false
  end

  it "are not joined twice, crosswise, with themselves, with a dog, or by who is no senior" do
    dog =
      make_patient(clinic, fitter, species: "dog", owner_name: "Ann Quarrel", record_number: "HQ 9")
    expect { join(double, dog) }.to raise_error(store::Faults, /another species/)
    expect { join(double, double) }.to raise_error(store::Faults, /this very record/)
    join
    expect { join }.to raise_error(store::Faults, /joined into another one already/)
    expect { join(right, double) }.to raise_error(store::Faults, /joined into another one already/)
    part
    expect { part }.to raise_error(store::Faults, /no such join/)
    words = { "from" => double.id, "into" => "HQ 0412", "why" => "written down twice" }
    try = -> { desk(clinic, fitter).run(Handrail::Store::Commands::JoinRecords.new(words)) }
    expect(&try).to raise_error(store::NotAllowed)
  end
end

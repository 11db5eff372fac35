# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# Cautions that stand of a wearer, whatever is ordered.
RSpec.describe "Standing cautions", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:store) { Handrail::Store }
  let(:patient) { make_patient(clinic, fitter) }
  let(:visit) { make_visit(clinic, fitter, patient: patient) }

  def written(command, **given)
    asked = { patient: patient.id, **given }.transform_keys(&:to_s)
    store::Desk.new(clinic, fitter).run(store::Commands.const_get(command).new(asked))
  end

  def stands = store.db[:standing_cautions].where(patient_id: patient.id)

  it "comes to every order, and is kept with the answers" do
    written(:NoteCaution, text: "Allergy to latex")
    expect(record(visit).safety.standing).to eq ["Allergy to latex"]
    ask(visit, fitter)
    expect(record(visit).events.last[:said]).to include "standing: Allergy to latex"
    expect(record(visit).gates).to be_open(:measure)
  end

  it "opens the cautions again at every open visit where it is added later, and holds back what comes after" do
    worn = fitted_visit(clinic, fitter, patient: patient)
    teach(worn, fitter)
    expect(record(worn).gates).to be_open(:hand_over)
    written(:NoteCaution, text: "Pacemaker")
    expect(record(worn).gates.before(:hand_over_device).map(&:code)).to include :cautions_open
    expect { hand_over(worn, fitter) }.to raise_error(store::Refused)
    ask(worn, fitter)
    hand_over(worn, fitter)
    expect(record(worn)).to be_handed_over
  end

  it "opens again what was asked before cautions could stand" do
    # a row as it was kept then
    basis = Handrail::Fitting::Basis
    without = ->(of, *args, **more) { of.call(*args, **more).except("standing") }
    allow(basis).to(receive(:of).and_wrap_original(&without))
    ask(visit, fitter)
    expect(record(visit).safety.questions[:rests_on]).not_to include "standing"
    expect(record(visit).safety.cautions_asked?).to be true
    written(:NoteCaution, text: "Pacemaker")
    expect(record(visit).safety.cautions_asked?).to be false
  end

  it "opens nothing when it ends, and a closed visit says what stood when it was closed" do
    written(:NoteCaution, text: "Shunt in the left arm")
    worn = handed_over_visit(clinic, fitter, patient: patient)
    written(:EndCaution, caution: stands.get(:id), why: "closed since spring")
    written(:NoteCaution, text: "Pacemaker")
    expect(record(worn).safety.standing).to eq ["Shunt in the left arm"]
    expect(record(worn).gates.done?(:order)).to be true
    later = record(worn).visits.last
    expect(record(later).safety.standing).to eq ["Pacemaker"]
    expect(stands.where(text: "Shunt in the left arm").get(:ended_why)).to eq "closed since spring"
  end

  it "ends without asking again" do
    written(:NoteCaution, text: "Allergy to latex")
    ask(visit, fitter)
    written(:EndCaution, caution: stands.get(:id), why: "tested")
    expect(record(visit).safety.cautions_asked?).to be true
  end

  it "refuses what is empty, what stands already, an end without a reason, and another clinic's" do
    written(:NoteCaution, text: "Allergy to latex")
    elsewhere = make_clinic
    other = make_patient(elsewhere, make_account(elsewhere))
    [
      [:NoteCaution, { text: "" }],
      [:NoteCaution, { text: "allergy to LATEX" }],
      [:NoteCaution, { text: "x", patient: other.id }],
      [:EndCaution, { caution: stands.get(:id) }],
      [:EndCaution, { caution: 0, why: "so" }]
    ].each { |command, given| expect { written(command, **given) }.to raise_error(store::Faults) }
    expect(stands.count).to eq 1
  end

  it "goes over to the record that this one is joined into" do
    written(:NoteCaution, text: "Allergy to latex")
    twin = make_patient(clinic, fitter, given_name: "Wilma", record_number: "TWIN 1")
    senior = make_account(clinic, "senior")
    store::Desk.new(clinic, senior).run(
      store::Commands::JoinRecords.new(
        "from" => patient.id,
        "into" => twin.record_number,
        "why" => "one person"
      )
    )
    visit = make_visit(clinic, fitter, patient: twin)
    expect(record(visit).safety.standing).to eq ["Allergy to latex"]
    store::Desk.new(clinic, fitter).run(
      store::Commands::EndCaution.new(
        "patient" => twin.id,
        "caution" => stands.get(:id).to_s,
        "why" => "tested"
      )
    )
    expect(record(visit).safety.standing).to eq []
  end
end

# frozen_string_literal: true

require "store_helper"

RSpec.describe "What the database refuses", :rolled_back do
  let(:db) { Handrail::Store.db }
  let(:clinic) { make_clinic }
  let(:account) { make_account(clinic) }
  let!(:visit) { make_visit(clinic, account) }
  let(:owner) { { clinic_id: clinic.id, visit_id: visit.id, by: account.id, version: 9 } }
  let(:reading) do
    { **owner, site: "knee_mid_patella", side: "left", posture: "sitting", tension: "snug", typed: "37", unit: "cm", value_mm: 370, tape: "cm 1 mm",
               entry_key: SecureRandom.uuid }
  end

  def refused(error = Sequel::CheckConstraintViolation, &block)
    expect { db.transaction(savepoint: true, &block) }.to raise_error(error)
  end

  it "takes what is whole" do
    expect { db[:readings].insert(**reading) }.to change { db[:readings].where(visit_id: visit.id).count }.by(1)
  end

  it "refuses half a reading, a reading of nothing, a side that is none, and the same entry twice" do
    refused { db[:readings].insert(**reading, value_mm: 0) }
    refused { db[:readings].insert(**reading, side: "middle") }
    refused { db[:readings].insert(**reading, struck_at: Time.now) }
    refused(Sequel::NotNullConstraintViolation) { db[:readings].insert(**reading, posture: nil) }
    db[:readings].insert(**reading)
    refused(Sequel::UniqueConstraintViolation) { db[:readings].insert(**reading) }
  end

  it "lets no row name another clinic's" do
    other = make_clinic
    refused(Sequel::ForeignKeyConstraintViolation) { db[:readings].insert(**reading, clinic_id: other.id) }
    refused(Sequel::ForeignKeyConstraintViolation) { db[:fittings].where(id: visit.fitting_id).update(patient_id: make_patient(other, make_account(other)).id) }
  end

  it "refuses another size than advised without a reason, and a device that can not be traced" do
    choice = { **owner, chart_revision_id: record(visit).revision.id, verdict: "fits", advised: "M", chosen: "L", reason: "-", configuration: Handrail::Store.json({}) }
    refused { db[:size_choices].insert(**choice) }
    refused { db[:size_choices].insert(**choice, advised: nil) }
    refused { db[:issued_devices].insert(**owner, fitting_id: visit.fitting_id, product_id: visit.fitting.product_id, size: "M", configuration: Handrail::Store.json({})) }
  end

  it "refuses a band upside down, an animal without owner, a birth in the next century" do
    size = db[:chart_sizes].where(clinic_id: clinic.id).first
    refused { db[:chart_bands].insert(clinic_id: clinic.id, chart_size_id: size[:id], site: "hip", min_mm: 5, max_mm: 4, unit: "cm") }
    patient = { clinic_id: clinic.id, record_number: "A", given_name: "Pilot", born_on: "2020-01-01", species: "dog" }
    refused { db[:patients].insert(**patient) }
    refused { db[:patients].insert(**patient, owner_name: "Agnes", born_on: "2200-01-01") }
  end

  it "keeps the audit trail, the visit's events, overrides and notes as they are" do
    ask(visit, account)
    entry = db[:audit_entries].where(clinic_id: clinic.id)
    refused(Sequel::DatabaseError) { entry.update(account_id: nil) }
    refused(Sequel::DatabaseError) { entry.delete }
    refused(Sequel::DatabaseError) { db.run("TRUNCATE audit_entries") }
    refused(Sequel::DatabaseError) { db[:visit_events].where(visit_id: visit.id).update(said: "other") }
  end

  it "writes who, when and what for every change of a row, whatever wrote it" do
    row = take(visit, account, "36.5")
    Handrail::Store.as(account.id) { db[:readings].where(id: row[:id]).update(answered_by: account.id) }
    entries = db[:audit_entries].where(table_name: "readings", row_id: row[:id]).order(:id).all
    expect(entries.map { |e| [e[:action], e[:account_id]] }).to eq [["insert", account.id], ["update", account.id]]
    expect(entries.last[:before]["answered_by"]).to be_nil
    expect(entries.last[:after]["answered_by"]).to eq account.id
  end

  it "leaves a closed visit alone, but for corrections" do
    row = take(visit, account, "36.5")
    Handrail::Store::Visit.where(id: visit.id).update(closed_at: Time.now, closed_by: account.id)
    refused(Sequel::DatabaseError) { db[:readings].insert(**reading) }
    refused(Sequel::DatabaseError) { db[:readings].where(id: row[:id]).update(value_mm: 1) }
    refused(Sequel::DatabaseError) { db[:readings].where(id: row[:id]).delete }
    refused(Sequel::DatabaseError) { db[:visits].where(id: visit.id).update(closed_at: nil, closed_by: nil) }
    expect(db[:readings].insert(**reading, corrects_id: row[:id], correction_reason: "typed wrong")).to be_an(Integer)
  end

  describe "of sizes, trials and the shelf" do
    let(:product) { Handrail::Store::Product[visit.fitting.product_id] }
    let(:piece) { { clinic_id: clinic.id, product_id: product.id, size: "M" } }
    let(:choice) { { **owner, verdict: "fits", advised: "M", chosen: "M", reason: "lies in M", configuration: Handrail::Store.json({}), side: "left", chart_revision_id: product.revision.id } }

    it "takes a size that stands on a chart or on a sheet, and on nothing else" do
      db[:size_choices].insert(**choice)
      db[:size_choices].insert(**choice, chart_revision_id: nil, sheet: Handrail::Store.json({ "key" => "stays" }))
      refused { db[:size_choices].insert(**choice, chart_revision_id: nil) }
      refused { db[:size_choices].insert(**choice, side: "both") }
      refused { db[:size_choices].insert(**choice, probability: 1.2) }
    end

    it "takes a trial that was right, too small or too large" do
      db[:size_trials].insert(**owner, side: "left", size: "41", outcome: "small")
      refused { db[:size_trials].insert(**owner, side: "left", size: "41", outcome: "snug") }
      refused { db[:size_trials].insert(**owner, side: "middle", size: "41", outcome: "good") }
    end

    it "holds a piece for somebody or for nobody, as its state says" do
      id = db[:stock_items].insert(**piece)
      refused { db[:stock_items].where(id: id).update(state: "reserved") }
      db[:stock_items].where(id: id).update(state: "reserved", fitting_id: visit.fitting_id)
      refused { db[:stock_items].where(id: id).update(state: "shelf") }
      refused { db[:stock_items].insert(**piece, size: " ") }
      refused { db[:stock_items].insert(**piece, state: "lost") }
      refused { db[:stock_levels].insert(**piece, least: -1) }
      db[:stock_levels].insert(**piece, least: 2)
      refused(Sequel::UniqueConstraintViolation) { db[:stock_levels].insert(**piece, least: 3) }
    end

    it "keeps shelves and prescriptions of clinics apart" do
      other = make_product(make_clinic)
      refused(Sequel::ForeignKeyConstraintViolation) { db[:stock_items].insert(**piece, product_id: other.id) }
      refused(Sequel::ForeignKeyConstraintViolation) { db[:stock_levels].insert(**piece, product_id: other.id, least: 1) }
      refused { db[:prescriptions].where(id: visit.fitting.prescription_id).update(side: "middle") }
      expect { db[:prescriptions].where(id: visit.fitting.prescription_id).update(side: "both") }.not_to raise_error
    end

    it "writes a trail of every piece that moves" do
      id = db[:stock_items].insert(**piece)
      Handrail::Store.as(account.id) { db[:stock_items].where(id: id).update(state: "gone") }
      entry = Handrail::Store::AuditEntry.where(table_name: "stock_items", row_id: id).order(:id).last
      expect([entry.action, entry.account_id, entry.before["state"], entry.after["state"]]).to eq ["update", account.id, "shelf", "gone"]
    end
  end
end

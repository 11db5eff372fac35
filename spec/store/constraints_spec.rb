# frozen_string_literal: true

require "store_helper"

RSpec.describe "What the database refuses", :rolled_back do
  let(:db) { Handrail::Store.db }
  let(:clinic) { make_clinic }
  let(:account) { make_account(clinic) }
  let!(:visit) { make_visit(clinic, account) }
  let(:entry) do
    {
      clinic_id: clinic.id,
      visit_id: visit.id,
      fitting_id: visit.fitting_id,
      by: account.id,
      version: following,
      command: "test",
      topic: "test",
      said: "test",
      entry_key: SecureRandom.uuid,
      digest: "0"
    }
  end
  # the number of the fitting's next entry
  let(:following) { db[:fittings].where(id: visit.fitting_id).get(:version) + 1 }
  let(:owner) do
    if db[:entries].where(visit_id: visit.id, version: following).empty?
      db[:entries].insert(**entry)
    end
    { clinic_id: clinic.id, visit_id: visit.id, by: account.id, version: following }
  end
  let(:reading) do
    {
      **owner,
      site: "knee_mid_patella",
      side: "left",
      posture: "sitting",
      tension: "snug",
      typed: "37",
      unit: "cm",
      value_mm: 370,
      tape: "cm 1 mm"
    }
  end

  def refused(error = Sequel::CheckConstraintViolation, &block)
    expect { db.transaction(savepoint: true, &block) }.to raise_error(error)
  end

  it "takes what is whole" do
    expect { db[:readings].insert(**reading) }.to change {
      db[:readings].where(visit_id: visit.id).count
    }.by(1)
  end

  it "refuses half a reading, a reading of nothing, and words that are none" do
    refused { db[:readings].insert(**reading, value_mm: 0) }
    refused { db[:readings].insert(**reading, side: "middle") }
    refused { db[:readings].insert(**reading, unit: "parsec") }
    refused { db[:readings].insert(**reading, posture: "flying") }
    refused { db[:readings].insert(**reading, tension: "slack") }
    refused { db[:readings].insert(**reading, tape: "ell") }
    refused { db[:readings].insert(**reading, typed: "3" * 41) }
    refused { db[:readings].insert(**reading, struck_at: Time.now) }
    refused(Sequel::NotNullConstraintViolation) { db[:readings].insert(**reading, posture: nil) }
  end

  it "keeps an entry, its key and its version once" do
    db[:entries].insert(**entry)
    expect(db[:fittings].where(id: visit.fitting_id).get(:version)).to eq following
    refused(Sequel::UniqueConstraintViolation) do
      db[:entries].insert(**entry, version: following + 1)
    end
    refused(Sequel::UniqueConstraintViolation) do
      db[:entries].insert(**entry, entry_key: SecureRandom.uuid)
    end
    # none is left out
    refused(Sequel::DatabaseError) do
      db[:entries].insert(**entry, version: following + 2, entry_key: SecureRandom.uuid)
    end
    refused { db[:entries].insert(**entry, version: -5, entry_key: SecureRandom.uuid) }
    refused { db[:entries].insert(**entry, version: nil, entry_key: SecureRandom.uuid) }
    alone = { **entry, visit_id: nil, fitting_id: nil, version: nil, entry_key: SecureRandom.uuid }
    db[:entries].insert(**alone)
    refused(Sequel::UniqueConstraintViolation) { db[:entries].insert(**alone) }
  end

  it "lets no row stand at a visit without its entry" do
    refused(Sequel::ForeignKeyConstraintViolation) { db[:readings].insert(**reading, version: 77) }
  end

  it "lets no row name another clinic's, nor another clinic's people" do
    other = make_clinic
    stranger = make_account(other)
    refused(Sequel::ForeignKeyConstraintViolation) do
      db[:readings].insert(**reading, clinic_id: other.id)
    end
    refused(Sequel::ForeignKeyConstraintViolation) do
      db[:readings].insert(**reading, by: stranger.id)
    end
    foreign = make_patient(other, stranger).id
    refused(Sequel::ForeignKeyConstraintViolation) do
      db[:fittings].where(id: visit.fitting_id).update(patient_id: foreign)
    end
  end

  it "corrects a row once" do
    first = db[:readings].insert(**reading)
    db[:readings].insert(**reading, corrects_id: first, correction_reason: "typed wrong")
    refused(Sequel::UniqueConstraintViolation) do
      db[:readings].insert(**reading, corrects_id: first, correction_reason: "again")
    end
  end

  it "refuses another size than advised without a reason, and a device that can not be traced" do
    choice = {
      **owner,
      chart_revision_id: record(visit).revision.id,
      verdict: "fits",
      advised: "M",
      chosen: "L",
      reason: "-",
      configuration: Handrail::Store.json({})
    }
    refused { db[:size_choices].insert(**choice) }
    refused { db[:size_choices].insert(**choice, advised: nil) }
    device = {
      **owner,
      fitting_id: visit.fitting_id,
      product_id: visit.fitting.product_id,
      size: "M",
      configuration: Handrail::Store.json({})
    }
    refused { db[:issued_devices].insert(**device) }
    refused { db[:issued_devices].insert(**device, serial: "S", ended_at: Time.now) }
  end

  it "gives a piece to one wearer, and a side one device" do
    piece =
      db[:stock_items].insert(clinic_id: clinic.id, product_id: visit.fitting.product_id, size: "M")
    device = {
      **owner,
      fitting_id: visit.fitting_id,
      product_id: visit.fitting.product_id,
      size: "M",
      serial: "S",
      configuration: Handrail::Store.json({}),
      side: "left",
      stock_item_id: piece
    }
    db[:issued_devices].insert(**device)
    refused(Sequel::UniqueConstraintViolation) do
      db[:issued_devices].insert(**device, side: "right")
    end
    refused(Sequel::UniqueConstraintViolation) do
      db[:issued_devices].insert(**device, stock_item_id: nil)
    end
  end

  it "takes a check's result as yes or no, or as a quantity of a kind" do
    result = { **owner, check_key: "slip", outcome: "good", kind: "yes_no" }
    db[:check_results].insert(**result)
    db[:check_results].insert(**result, kind: "pressure", value: 45, place: "strap_1", side: "left")
    refused { db[:check_results].insert(**result, value: 3) }
    refused { db[:check_results].insert(**result, kind: "length") }
    refused { db[:check_results].insert(**result, kind: "mood") }
    refused { db[:check_results].insert(**result, outcome: "perhaps") }
  end

  it "refuses a band upside down, an animal without owner, a birth in the next century" do
    size = db[:chart_sizes].where(clinic_id: clinic.id).first
    band = {
      clinic_id: clinic.id,
      chart_size_id: size[:id],
      site: "hip",
      min_mm: 4,
      max_mm: 5,
      unit: "cm"
    }
    refused { db[:chart_bands].insert(**band, min_mm: 6) }
    refused { db[:chart_bands].insert(**band, unit: "ell") }
    patient = {
      clinic_id: clinic.id,
      record_number: "A",
      given_name: "Pilot",
      born_on: "2020-01-01",
      species: "dog"
    }
    refused { db[:patients].insert(**patient) }
    refused { db[:patients].insert(**patient, owner_name: "Agnes", born_on: "2200-01-01") }
  end

  it "keeps a record number once, however it is spaced or cased" do
    patient = { clinic_id: clinic.id, given_name: "A", family_name: "B", born_on: "2000-01-01" }
    db[:patients].insert(**patient, record_number: "C 77")
    refused(Sequel::UniqueConstraintViolation) do
      db[:patients].insert(**patient, record_number: "c  77")
    end
  end

  it "keeps trail, entries, overrides, results, charts and protocols as they are" do
    ask(visit, account)
    tables = {
      entries: {
        said: "other"
      },
      safety_questions: {
        note: "other"
      },
      protocols: {
        text: "other"
      },
      fitting_pins: {
        product_name: "other"
      },
      chart_bands: {
        min_mm: 1
      },
      audit_entries: {
        account_id: nil
      }
    }
    tables.each do |table, values|
      rows = db[table].where(clinic_id: clinic.id)
      expect(rows.count).to be_positive, table.to_s
      refused(Sequel::DatabaseError) { rows.update(**values) }
      refused(Sequel::DatabaseError) { rows.delete }
      refused(Sequel::DatabaseError) { db.run("TRUNCATE #{table} CASCADE") }
    end
  end

  it "writes who, when and what for every change of a row, whatever wrote it" do
    ask(visit, account)
    row = take(visit, account, "36.5")
    Handrail::Store.as(account.id) do
      db[:readings].where(id: row[:id]).update(answered_by: account.id, answered_at: Time.now)
    end
    trail = db[:audit_entries].where(table_name: "readings", row_id: row[:id]).order(:id).all
    expect(trail.map { |e| [e[:action], e[:account_id], e[:visit_id]] }).to eq [
         ["insert", account.id, visit.id],
         ["update", account.id, visit.id]
       ]
    expect([trail.last[:before]["answered_by"], trail.last[:after]["answered_by"]]).to eq [
         nil,
         account.id
       ]
  end

  it "leaves a closed visit alone, but for corrections and the end of a device" do
    ask(visit, account)
    row = take(visit, account, "36.5")
    device =
      db[:issued_devices].insert(
        **owner,
        fitting_id: visit.fitting_id,
        product_id: visit.fitting.product_id,
        size: "M",
        serial: "S",
        configuration: Handrail::Store.json({})
      )
    Handrail::Store::Visit.where(id: visit.id).update(closed_at: Time.now, closed_by: account.id)
    refused(Sequel::DatabaseError) { db[:readings].insert(**reading) }
    refused(Sequel::DatabaseError) { db[:readings].where(id: row[:id]).update(value_mm: 1) }
    refused(Sequel::DatabaseError) { db[:readings].where(id: row[:id]).delete }
    refused(Sequel::DatabaseError) do
      db[:visits].where(id: visit.id).update(closed_at: nil, closed_by: nil)
    end
    expect(
      db[:readings].insert(**reading, corrects_id: row[:id], correction_reason: "typed wrong")
    ).to be_an(Integer)
    refused(Sequel::DatabaseError) { db[:issued_devices].where(id: device).update(size: "L") }
    ended = { ended_at: Time.now, ended_why: "returned", ended_by: account.id }
    expect(db[:issued_devices].where(id: device).update(**ended)).to eq 1
    refused(Sequel::DatabaseError) do
      db[:issued_devices].where(id: device).update(ended_why: "replaced")
    end
  end

  it "plans one recheck at a time, and opens none that was called off" do
    planned = { clinic_id: clinic.id, fitting_id: visit.fitting_id, purpose: "recheck" }
    id = db[:visits].insert(**planned)
    refused(Sequel::UniqueConstraintViolation) { db[:visits].insert(**planned) }
    db[:visits].where(id: id).update(called_off_at: Time.now)
    db[:visits].insert(**planned)
    refused { db[:visits].where(id: id).update(opened_at: Time.now) }
    refused { db[:visits].where(id: visit.id).update(version: -5) }
  end

  describe "of sizes, trials and the shelf" do
    let(:product) { Handrail::Store::Product[visit.fitting.product_id] }
    let(:piece) { { clinic_id: clinic.id, product_id: product.id, size: "M" } }
    let(:choice) do
      {
        **owner,
        verdict: "fits",
        advised: "M",
        chosen: "M",
        reason: "lies in M",
        side: "left",
        configuration: Handrail::Store.json({}),
        chart_revision_id: product.revision(clinic.today).id
      }
    end

    it "takes a size that stands on a chart or on a sheet, and on nothing else" do
      db[:size_choices].insert(**choice)
      db[:size_choices].insert(
        **choice,
        chart_revision_id: nil,
        sheet: Handrail::Store.json({ "key" => "stays" })
      )
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
      refused(Sequel::ForeignKeyConstraintViolation) do
        db[:stock_items].insert(**piece, product_id: other.id)
      end
      refused(Sequel::ForeignKeyConstraintViolation) do
        db[:stock_levels].insert(**piece, product_id: other.id, least: 1)
      end
      refused { db[:prescriptions].where(id: visit.fitting.prescription_id).update(side: "middle") }
      expect {
        db[:prescriptions].where(id: visit.fitting.prescription_id).update(side: "both")
      }.not_to raise_error
    end

    it "writes a trail of every piece that moves" do
      id = db[:stock_items].insert(**piece)
      Handrail::Store.as(account.id) { db[:stock_items].where(id: id).update(state: "gone") }
      found =
        Handrail::Store::AuditEntry.where(table_name: "stock_items", row_id: id).order(:id).last
      expect([found.action, found.account_id, found.before["state"], found.after["state"]]).to eq [
           "update",
           account.id,
           "shelf",
           "gone"
         ]
    end
  end
end

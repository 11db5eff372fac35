# frozen_string_literal: true

require "store_helper"
require_relative "../../demo/crowd"

# The crowd is written past triggers and foreign keys, so everything that they would have held is
# looked at here.
RSpec.describe Handrail::Crowd, :rolled_back do
  store = Handrail::Store
  db = store.db

  # rows of the crowd: [its patients' ids, its visits' ids]
  def crowd = Handrail::Store.db[:patients].where(Sequel.like(:record_number, "HQ L %"))

  def visits
    Handrail::Store.db[:visits].where(
      fitting_id: Handrail::Store.db[:fittings].where(patient_id: crowd.select(:id)).select(:id)
    )
  end

  before do |example|
    due_everywhere if example.metadata[:due]
    as_owner { described_class.load(example.metadata[:due] ? 800 : 120, seed: 3) }
  end

  # a part that falls due for every visit of the demo, so that there is something to copy
  def due_everywhere
    due = { kind: "part", key: "liner", label: "Liner", due_on: Date.new(2026, 12, 1) }
    rows = Handrail::Store.db[:visits].select_map(%i[clinic_id fitting_id id]).uniq { |row| row[1] }
    Handrail::Store.db[:fitting_dues].multi_insert(
      rows.map do |clinic, fitting, visit|
        { clinic_id: clinic, fitting_id: fitting, visit_id: visit, **due }
      end
    )
  end

  it "adds people of their own, and a story to about half of them" do
    expect(crowd.count).to eq 120
    expect(crowd.select(:given_name, :family_name, :owner_name).distinct.count).to be > 110
    expect(crowd.select_map(:born_on).uniq.size).to be > 100
    expect(visits.select(:fitting_id).distinct.count).to be_between(40, 80)
    expect(store::Find.patients(DEMO, "HQ L 000120").map(&:record_number)).to eq ["HQ L 000120"]
  end

  it "leaves no row that names another that is not there" do
    orphans =
      db.tables.flat_map do |table|
        db
          .foreign_key_list(table)
          .map do |key|
            mine = key[:columns].map { |column| Sequel[:child][column] }
            theirs = key[:key].map { |column| Sequel[:parent][column] }
            full = mine.map { |column| Sequel.negate(column => nil) }.reduce(:&)
            parents =
              db[Sequel[key[:table]].as(:parent)].where(theirs.zip(mine).to_h).select(1).exists
            [table, key[:columns], db[Sequel[table].as(:child)].where(full).exclude(parents).count]
          end
      end
    expect(orphans.reject { |_, _, count| count.zero? }).to be_empty
  end

  it "keeps the summaries that would be made" do
    expect(store::Summaries.differences(DEMO)).to be_empty
  end

  it "reads as it was typed, and on other limbs than those of the demo" do
    rows = db[:readings].where(visit_id: visits.select(:id)).exclude(unit: nil).all
    expect(rows.size).to be > 100
    typed = rows.map { |row| Handrail::Quantity::Length.parse(row[:typed], unit: row[:unit]).mm }
    expect(typed).to eq(rows.map { |row| row[:value_mm].to_r })
    here = db[:readings].where(clinic_id: DEMO.id)
    own = here.where(visit_id: visits.select(:id)).distinct.select_map(:value_mm)
    demo = here.exclude(visit_id: visits.select(:id)).distinct.select_map(:value_mm)
    expect((own - demo).size).to be > own.size / 2
  end

  it "writes the audit of what it told, and takes the next entry" do
    reading = db[:readings].where(visit_id: visits.select(:id)).first
    audit = db[:audit_entries].where(table_name: "readings", row_id: reading[:id]).first
    expect(audit[:after]["id"]).to eq reading[:id]
    expect(audit[:after]["visit_id"]).to eq reading[:visit_id]
    patient = make_patient(DEMO, store::Account.first(clinic_id: DEMO.id, role: "fitter"))
    expect(patient.id).to be > crowd.max(:id)
  end

  it "ends what lies in the past, and plans nothing for it" do
    over = db[:fittings].where(patient_id: crowd.select(:id)).exclude(ended_at: nil).select(:id)
    expect(over.count).to be > 20
    expect(db[:visits].where(fitting_id: over, closed_at: nil, called_off_at: nil).count).to eq 0
  end

  it "copies what falls due with a story that runs, and with no other", :due do
    running = db[:fittings].where(patient_id: crowd.select(:id), ended_at: nil).select(:id)
    due = db[:fitting_dues].where(fitting_id: visits.select(:fitting_id))
    expect(due.where(fitting_id: running).count).to be > 0
    expect(due.exclude(fitting_id: running).count).to eq 0
  end
end

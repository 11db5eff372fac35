# frozen_string_literal: true

require "store_helper"

# The role that the server works as, against the same tables as everything else here.
RSpec.describe Handrail::Store::Roles do
  store = Handrail::Store

  # Runs SQL as the application's role, as which every spec here works.
  def as_server(sql)
    Handrail::Store.db.transaction(savepoint: true) { Handrail::Store.db.run(sql) }
  end

  it "does the clinic's work: a patient, an order, readings, a note, each with its audit" do
    clinic = make_clinic
    fitter = make_account(clinic)
    product = make_product(clinic)
    expect(store.db.get(Sequel.lit("current_user"))).to eq SERVER_ROLE
    visit = make_visit(clinic, fitter, product: product)
    ask(visit, fitter)
    take(visit, fitter, "36.5")
    expect(record(visit).live_readings.size).to eq 1
    expect(
      store.db[:audit_entries].where(clinic_id: clinic.id, table_name: "readings").count
    ).to eq 1
  end

  it "can neither truncate nor alter nor drop anything, make a table, or write the audit by hand" do
    [
      "TRUNCATE readings CASCADE",
      "ALTER TABLE readings ADD COLUMN x int",
      "DROP TABLE readings",
      "CREATE TABLE x (y int)",
      "ALTER TABLE readings DISABLE TRIGGER ALL",
      "SET session_replication_role = replica",
      "INSERT INTO audit_entries (clinic_id, table_name, row_id, action) VALUES (1, 'x', 1, 'insert')",
      "UPDATE schema_info SET version = 1"
    ].each do |sql|
      expect { as_server(sql) }.to raise_error(Sequel::DatabaseError, /denied|must be owner/), sql
    end
  end

  it "can change nothing in the tables that take new rows only" do
    expect(described_class.appended_tables).to include(
      :audit_entries,
      :entries,
      :sign_ins,
      :account_events
    )
    described_class.appended_tables.each do |table|
      expect { as_server("DELETE FROM #{table}") }.to raise_error(Sequel::DatabaseError, /denied/),
      table.to_s
      column = store.db[table].columns.last
      expect { as_server("UPDATE #{table} SET #{column} = #{column}") }.to raise_error(
        Sequel::DatabaseError,
        /denied/
      )
    end
  end

  it "takes no name that would be more than a name" do
    expect { described_class.grant("x; DROP TABLE readings") }.to raise_error(
      Handrail::Error,
      /no name of a role/
    )
  end
end

# frozen_string_literal: true

require_relative "../support/tables"

# What a wearer brings from another clinic: their record as it was written there, with its papers and photos; how tight
# the tape was at readings from before; and a file that was looked at and waits for its yes.
Sequel.migration do
  up do
    alter_table(:earlier_readings) do
      add_column :tension, String
      add_constraint :earlier_readings_tension_check,
                     Sequel.lit("tension IN ('resting', 'snug', 'firm', 'hard')")
    end
    run "DROP INDEX earlier_readings_once"
    run "CREATE UNIQUE INDEX earlier_readings_once ON earlier_readings " \
          "(patient_id, read_on, site, side, posture, tension, typed) NULLS NOT DISTINCT"

    Tables.signed(
      self,
      :brought_records,
      parents: {
        patient_id: :patients,
        ended_by: :accounts
      },
      optional: %i[ended_by]
    ) do
      String :sha256, null: false
      String :clinic, null: false
      column :told, :jsonb, null: false
      column :files, :jsonb, null: false, default: "[]"
      column :ended_at, :timestamptz
      String :ended_why
      constraint(:clinic_said, Tables.said(:clinic))
      constraint(:ended_whole, Sequel.lit("num_nulls(ended_at, ended_by, ended_why) IN (0, 3)"))
      index %i[patient_id sha256], unique: true, where: { ended_at: nil }, name: :brought_once
    end

    Tables.owned(self, :waiting_files, parents: { by: :accounts }, audit: false) do
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      String :name, null: false
      column :bytes, :bytea, null: false
      constraint(:size_bounded, Sequel.lit("octet_length(bytes) BETWEEN 1 AND 20000000"))
    end
  end

  down do
    drop_table :waiting_files
    drop_table :brought_records
    run "DROP INDEX earlier_readings_once"
    alter_table(:earlier_readings) { drop_column :tension }
    run "CREATE UNIQUE INDEX earlier_readings_once ON earlier_readings " \
          "(patient_id, read_on, site, side, posture, typed) NULLS NOT DISTINCT"
  end
end

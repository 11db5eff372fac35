# frozen_string_literal: true

require_relative "../support/tables"

# Two records of one person are one from then on, and can be parted again: moved - what went over, as table => ids.
Sequel.migration do
  up do
    alter_table :patients do
      add_column :joined_into_id, :Bignum
      add_foreign_key %i[clinic_id joined_into_id],
                      :patients,
                      key: %i[clinic_id id],
                      name: :patients_joined_into_id_fkey
      add_constraint :joined_into_another, Sequel.lit("joined_into_id IS DISTINCT FROM id")
    end
    run "CREATE INDEX patients_joined ON patients (clinic_id, joined_into_id) WHERE joined_into_id IS NOT NULL"
    Tables.signed(self, :record_joins, parents: { from_id: :patients, into_id: :patients }) do
      String :why, null: false
      column :moved, :jsonb, null: false
      column :parted_at, :timestamptz
      constraint(:why_said, Tables.said(:why))
    end
  end

  down do
    drop_table :record_joins
    alter_table(:patients) do
      drop_constraint :joined_into_another
      drop_column :joined_into_id
    end
  end
end

# frozen_string_literal: true

require_relative "../support/tables"

# Families of devices that a clinic brought in, beside those that ship or in their place: each text as it came, who
# brought it and why, and when it was ended. What is in force stands with the clinic, by digest.
Sequel.migration do
  up do
    Tables.signed(
      self,
      :clinic_families,
      parents: {
        ended_by: :accounts
      },
      optional: %i[ended_by]
    ) do
      String :key, null: false
      String :digest, null: false
      String :text, null: false
      String :source, null: false
      String :why, null: false
      column :ended_at, :timestamptz
      String :ended_why
      constraint(:key_form, Sequel.lit("key ~ '^[a-z0-9][a-z0-9_]{0,79}$'"))
      constraint(:why_said, Tables.said(:why))
      constraint(:size_bounded, Sequel.lit("octet_length(source) <= 200000"))
      constraint(:ended_whole, Sequel.lit("num_nulls(ended_at, ended_by, ended_why) IN (0, 3)"))
      index %i[clinic_id key], unique: true, where: { ended_at: nil }, name: :one_in_force
    end
    add_column :clinics, :own_families, :jsonb, null: false, default: "{}"
  end

  down do
    drop_column :clinics, :own_families
    drop_table :clinic_families
  end
end

# frozen_string_literal: true

# What one process of the server has to know of another: what instruments sent last, so that a press is not taken for
# another one because another process was asked. And at whose bench each instrument is, so that what it sends arrives
# there.
Sequel.migration do
  up do
    create_table(:device_presses) do
      String :name, primary_key: true
      column :number, :Bignum, null: false
      column :moment, :Bignum, null: false
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      constraint(:name_bounded, Sequel.lit("length(name) BETWEEN 1 AND 80"))
    end
    create_table(:device_benches) do
      String :kind, primary_key: true
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      column :account_id, :Bignum, null: false
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      foreign_key %i[clinic_id account_id],
                  :accounts,
                  key: %i[clinic_id id],
                  name: :device_benches_account_fkey
      constraint(:kind_known, kind: %w[tape sensor])
    end
  end

  down { drop_table :device_benches, :device_presses }
end

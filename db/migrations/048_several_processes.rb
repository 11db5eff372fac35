# frozen_string_literal: true

# What one process of the server has to know of another: what instruments sent last, so that a press is not taken for
# another one because another process was asked.
Sequel.migration do
  up do
    create_table(:device_presses) do
      String :name, primary_key: true
      column :number, :Bignum, null: false
      column :moment, :Bignum, null: false
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      constraint(:name_bounded, Sequel.lit("length(name) BETWEEN 1 AND 80"))
    end
  end

  down { drop_table :device_presses }
end

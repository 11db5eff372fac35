# frozen_string_literal: true

# An entry that waited in a browser for the line keeps two hours: when it arrived (at) and when it was made
# (made_at, empty where that is the same). Each account has a key by which its browsers seal what waits
# there; it lies here and nowhere in the browser once that is signed out.
Sequel.migration do
  up do
    alter_table(:entries) do
      add_column :made_at, :timestamptz
      add_constraint(:entries_made_before) { made_at <= at }
    end

    create_table :browser_keys do
      foreign_key :account_id, :accounts, primary_key: true
      foreign_key :clinic_id, :clinics, null: false
      File :key, null: false
      column :at, :timestamptz, null: false
    end
  end

  down do
    drop_table :browser_keys
    alter_table(:entries) do
      drop_constraint :entries_made_before
      drop_column :made_at
    end
  end
end

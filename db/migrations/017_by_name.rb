# frozen_string_literal: true

# People are found by the beginning of their name first, in a clinic of any size.
Sequel.migration do
  up do
    # a person's family name, an animal's own, as names are ordered
    run <<~SQL
      ALTER TABLE patients ADD COLUMN name_key text COLLATE "C"
        GENERATED ALWAYS AS (lower(coalesce(nullif(trim(family_name), ''), given_name))) STORED;
      CREATE INDEX patients_by_name ON patients (clinic_id, name_key, given_name, id);
    SQL
    alter_table(:patients) { drop_index %i[clinic_id family_name given_name id] }
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose what was entered. Restore a backup instead."
  end
end

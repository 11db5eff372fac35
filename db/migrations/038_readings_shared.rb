# frozen_string_literal: true

# A reading of the same day is taken for a second device of the wearer: its row says which one it is.
Sequel.migration do
  up do
    alter_table :readings do
      add_column :same_as_id, :Bignum
      add_foreign_key %i[clinic_id same_as_id],
                      :readings,
                      key: %i[clinic_id id],
                      name: :readings_same_as_id_fkey
      add_index %i[clinic_id same_as_id], where: Sequel.lit("same_as_id IS NOT NULL")
    end
  end

  down { alter_table(:readings) { drop_column :same_as_id } }
end

# frozen_string_literal: true

# The number of a piece of a closed visit is put right by a row that names the one it corrects.
Sequel.migration do
  up do
    alter_table :issued_devices do
      add_column :corrects_id, :Bignum
      add_column :correction_reason, String
      add_foreign_key %i[clinic_id corrects_id],
                      :issued_devices,
                      key: %i[clinic_id id],
                      name: :issued_devices_corrects_id_fkey
      add_index %i[clinic_id corrects_id],
                unique: true,
                where: Sequel.lit("corrects_id IS NOT NULL"),
                name: :issued_devices_corrected_once
      add_constraint :correction_said,
                     Sequel.lit("(corrects_id IS NULL) = (correction_reason IS NULL)")
    end
  end

  down do
    alter_table :issued_devices do
      drop_column :corrects_id
      drop_column :correction_reason
    end
  end
end

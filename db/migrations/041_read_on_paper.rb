# frozen_string_literal: true

# A reading that was read on paper and typed in afterwards: when it was read, and by whom.
Sequel.migration do
  up do
    alter_table :readings do
      add_column :read_at, :timestamptz
      add_column :read_by, :Bignum
      add_foreign_key %i[clinic_id read_by],
                      :accounts,
                      key: %i[clinic_id id],
                      name: :readings_read_by_fkey
      add_constraint :readings_read_check, Sequel.lit("(read_at IS NULL) = (read_by IS NULL)")
      add_index %i[clinic_id read_by], where: Sequel.lit("read_by IS NOT NULL")
    end
  end

  down do
    alter_table :readings do
      drop_column :read_at
      drop_column :read_by
    end
  end
end

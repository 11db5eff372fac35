# frozen_string_literal: true

require_relative "../support/tables"

# An order is taken back before its device was handed over: withdrawn, or moved to the record of the right patient;
# and corrected, at the visit at which the fault was seen.
Sequel.migration do
  up do
    alter_table :fittings do
      add_column :ended_as, String
      add_column :moved_from_id, :Bignum
      add_foreign_key %i[clinic_id moved_from_id],
                      :fittings,
                      key: %i[clinic_id id],
                      name: :fittings_moved_from_id_fkey
      add_index %i[clinic_id moved_from_id],
                where: Sequel.lit("moved_from_id IS NOT NULL"),
                unique: true
    end
    run "UPDATE fittings SET ended_as = 'ended' WHERE ended_at IS NOT NULL"
    alter_table :fittings do
      add_constraint :end_has_kind, Sequel.lit("(ended_at IS NULL) = (ended_as IS NULL)")
      add_constraint :end_known, Sequel.lit("ended_as IN ('ended', 'withdrawn', 'moved')")
    end
    # a visit of an order that is withdrawn may have begun; what was called off does not begin any more
    alter_table(:visits) do
      drop_constraint :called_off_unopened
      add_constraint :called_off_stays, Sequel.lit("opened_at <= called_off_at")
    end

    # corrected - what was put right: "side", "prescriber", "prescribed_on" and "fields" (key => value); was - the same
    # as it stood before
    Tables.at_visit(self, :order_corrections, closed: false) do
      column :corrected, :jsonb, null: false
      column :was, :jsonb, null: false
      String :why, null: false
      constraint(:why_said, Tables.said(:why))
      constraint(:something_corrected, Sequel.lit("corrected <> '{}'::jsonb"))
    end
    Tables.append_only(self, :order_corrections)
  end

  down do
    drop_table :order_corrections
    alter_table(:visits) do
      drop_constraint :called_off_stays
      add_constraint :called_off_unopened, Sequel.lit("called_off_at IS NULL OR opened_at IS NULL")
    end
    alter_table :fittings do
      drop_constraint :end_known
      drop_constraint :end_has_kind
      drop_column :moved_from_id
      drop_column :ended_as
    end
  end
end

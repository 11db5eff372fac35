# frozen_string_literal: true

# Who has come for a visit; and what of a fitting that runs should not wait, beside its parts and
# sizes: problems nobody saw end, skin that does not heal, straps at the end of their closure.
Sequel.migration do
  up do
    alter_table(:visits) { add_column :arrived_at, :timestamptz }

    alter_table :fitting_dues do
      drop_constraint :kind_known
      add_constraint :kind_known, kind: %w[part size problem skin mark]
      drop_index %i[clinic_id due_on]
      add_index %i[clinic_id kind due_on]
    end
    # what is ready and not signed is looked for at every board
    run "CREATE INDEX visit_summaries_unsigned ON visit_summaries (clinic_id, visit_id) " \
          "WHERE stage = 'hand_over'"
    # the next visit of a fitting that somebody has booked
    run "CREATE INDEX visits_fitting_planned ON visits (fitting_id, planned_for) " \
          "WHERE closed_at IS NULL AND called_off_at IS NULL"
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose what was entered. Restore a backup instead."
  end
end

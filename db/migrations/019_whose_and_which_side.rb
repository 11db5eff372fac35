# frozen_string_literal: true

# Of two devices each has its own days: a part that was renewed on the left leaves the right as it
# was. A visit that was missed says with whom it was booked, so that a calendar feed shows each
# fitter their own.
Sequel.migration do
  up do
    alter_table(:missed_visits) { add_column :planned_with, :Bignum }
    run "ALTER TABLE missed_visits ADD CONSTRAINT missed_visits_planned_with_fkey " \
          "FOREIGN KEY (clinic_id, planned_with) REFERENCES accounts (clinic_id, id)"
    # renewed before sides were told: both
    alter_table(:part_renewals) { add_column :side, String }
    run "ALTER TABLE part_renewals ADD CONSTRAINT part_renewals_side_check CHECK (side IN ('left', 'right'))"
    run "CREATE INDEX fitting_dues_visit ON fitting_dues (visit_id)"
  end

  down do
    alter_table(:missed_visits) { drop_column :planned_with }
    alter_table(:part_renewals) { drop_column :side }
    run "DROP INDEX fitting_dues_visit"
  end
end

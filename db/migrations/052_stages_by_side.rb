# frozen_string_literal: true

# Of two devices each stands at a stage of its own: what was cleared for the left leaves the right as it was.
Sequel.migration do
  up do
    # cleared before sides were told: both
    alter_table(:stage_clearances) { add_column :side, String }
    run "ALTER TABLE stage_clearances ADD CONSTRAINT stage_clearances_side_check CHECK (side IN ('left', 'right'))"
  end

  down { alter_table(:stage_clearances) { drop_column :side } }
end

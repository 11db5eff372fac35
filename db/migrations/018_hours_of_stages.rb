# frozen_string_literal: true

# Getting used to a device, wearing it as ordered and weaning off it are stages too; with each may
# stand how many hours a day were agreed.
Sequel.migration do
  up do
    alter_table(:stage_clearances) do
      add_column :hours, :numeric
      add_constraint(:hours_of_a_day, Sequel.lit("hours > 0 AND hours <= 24"))
    end
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose what was entered. Restore a backup instead."
  end
end

# frozen_string_literal: true

# A check that can fail in two ways says which: too high asks for another change than too low. Empty where the
# check has one way, or was made before ways were asked.
Sequel.migration do
  up do
    alter_table :check_results do
      add_column :way, String
      drop_constraint :check_results_kind_check
      add_constraint :kind_known, kind: %w[yes_no length angle pressure count score duration weight]
      add_constraint :way_where_bad, Sequel.lit("way IS NULL OR outcome = 'bad'")
    end
  end

  down { alter_table(:check_results) { drop_column :way } }
end

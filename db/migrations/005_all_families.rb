# frozen_string_literal: true

require_relative "../../lib/handrail"

Sequel.migration do
  up do
    schema = Handrail::Store::Schema

    run "ALTER TABLE prescriptions DROP CONSTRAINT IF EXISTS prescriptions_side_check"
    run "ALTER TABLE prescriptions ADD CONSTRAINT prescriptions_side_check CHECK (side IN ('left', 'right', 'both'))"

    # what was computed from the pressures asked for, as typed and as found
    alter_table(:safety_questions) do
      add_column :pressures, :jsonb
      add_column :findings, :jsonb
    end

    # one size a side; a computed sheet stands where there is no chart
    alter_table(:size_choices) do
      add_column :side, String
      add_column :sheet, :jsonb
      set_column_allow_null :chart_revision_id
      add_constraint(:size_choices_side_known, "side IN ('left', 'right')")
      add_constraint(:size_choices_on_something, "chart_revision_id IS NOT NULL OR sheet IS NOT NULL")
    end

    schema.at_visit(self, :size_trials) do
      String :side
      String :size, null: false
      String :outcome, null: false
      check side: %w[left right]
      check outcome: %w[good small large]
    end

    # the shelf: one row a piece
    schema.owned(self, :stock_items, parents: { product_id: :products, fitting_id: :fittings }, optional: [:fitting_id]) do
      String :size, null: false
      String :side, null: false, default: ""
      String :lot
      String :state, null: false, default: "shelf"
      column :received_at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      check state: %w[shelf reserved taken gone]
      check side: ["", "left", "right"]
      constraint(:size_said, "length(trim(coalesce(size, ''))) > 0")
      constraint(:held_for_someone, "(state IN ('reserved', 'taken')) = (fitting_id IS NOT NULL)")
      index %i[clinic_id product_id size state]
    end

    schema.owned(self, :stock_levels, parents: { product_id: :products }) do
      String :size, null: false
      String :side, null: false, default: ""
      Integer :least, null: false
      constraint(:least_sound, "least BETWEEN 0 AND 999")
      unique %i[product_id size side]
    end

    alter_table(:issued_devices) do
      add_column :side, String
      add_column :stock_item_id, :Bignum
      add_constraint(:issued_devices_side_known, "side IN ('left', 'right')")
      add_foreign_key %i[clinic_id stock_item_id], :stock_items, key: %i[clinic_id id]
    end
  end

  down do
    alter_table(:issued_devices) do
      drop_column :stock_item_id
      drop_column :side
    end
    drop_table :stock_levels, :stock_items, :size_trials
    run "DELETE FROM size_choices WHERE chart_revision_id IS NULL"
    alter_table(:size_choices) do
      drop_constraint :size_choices_on_something
      drop_column :sheet
      drop_column :side
      set_column_not_null :chart_revision_id
    end
    alter_table(:safety_questions) do
      drop_column :findings
      drop_column :pressures
    end
    run "UPDATE prescriptions SET side = 'left' WHERE side = 'both'"
    run "ALTER TABLE prescriptions DROP CONSTRAINT prescriptions_side_check"
    run "ALTER TABLE prescriptions ADD CONSTRAINT prescriptions_side_check CHECK (side IN ('left', 'right'))"
  end
end

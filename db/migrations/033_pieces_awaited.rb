# frozen_string_literal: true

# A device that is made to measure, or ordered, is away like other work until it comes: its slip says of which size it
# is.
Sequel.migration do
  up do
    alter_table :job_slips do
      add_column :piece, TrueClass, null: false, default: false
      add_column :size, String
      add_constraint :piece_has_size, Sequel.lit("NOT piece OR size IS NOT NULL")
    end
  end

  down do
    alter_table :job_slips do
      drop_constraint :piece_has_size
      drop_column :size
      drop_column :piece
    end
  end
end

# frozen_string_literal: true

# A chosen size keeps the size of each part of its chart, so that "X Large" is never taken for
# "Large".
Sequel.migration do
  up { alter_table(:size_choices) { add_column :parts, :jsonb } }
  down { alter_table(:size_choices) { drop_column :parts } }
end

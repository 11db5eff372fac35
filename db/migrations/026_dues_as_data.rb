# frozen_string_literal: true

# What is due keeps its side and the course of the skin as data beside its label: words are made where
# it is shown, and nothing is learnt from them. Rows are made anew with the summaries.
Sequel.migration do
  up do
    alter_table(:fitting_dues) do
      add_column :side, String
      add_column :course, String
    end
    from(:fitting_dues).delete
  end

  down do
    from(:fitting_dues).delete
    alter_table(:fitting_dues) do
      drop_column :course
      drop_column :side
    end
  end
end

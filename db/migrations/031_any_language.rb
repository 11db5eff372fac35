# frozen_string_literal: true

# A language is a folder of words: which there are is not the database's to know.
Sequel.migration do
  up do
    alter_table :patients do
      drop_constraint :language_known
      add_constraint :language_key, Sequel.lit("language ~ '^[a-z]{2}$'")
    end
  end

  down do
    alter_table :patients do
      drop_constraint :language_key
      add_constraint :language_known, language: %w[en de]
    end
  end
end

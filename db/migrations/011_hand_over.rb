# frozen_string_literal: true

require_relative "../support/tables"

# How each task of a teach-back went, what was delivered and initialled at the hand-over, the plan of
# wearing, papers with their digests, and the language of a wearer's sheet.
Sequel.migration do
  up do
    alter_table :patients do
      add_column :language, String, null: false, default: "en"
      add_constraint :language_known, language: %w[en de]
    end

    alter_table :teach_backs do
      # task => unaided, word, hands or not
      add_column :levels, :jsonb
      add_column :tries, Integer
      add_constraint :tries_sound, Sequel.lit("tries BETWEEN 1 AND 99")
    end

    alter_table :hand_overs do
      add_column :spares, String, text: true
      # [[statement, initials], ...]
      add_column :statements, :jsonb
      add_column :signed_how, String, null: false, default: "drawn"
      # { start, add, every, most } in hours and days
      add_column :plan, :jsonb
      add_constraint :signed_how_known, signed_how: %w[drawn name paper]
    end

    Tables.at_visit(self, :papers, closed: false) do
      String :kind, null: false
      String :sha256, null: false
      Integer :pages, null: false
      check kind: %w[record sheet locator]
      constraint(:pages_sound, Sequel.lit("pages BETWEEN 1 AND 500"))
      foreign_key %i[clinic_id sha256], :files, key: %i[clinic_id sha256], name: :papers_file_fkey
    end
    Tables.append_only(self, :papers)
  end

  down do
    raise Sequel::Error,
          "What was written at visits is not thrown away: use bin/start --reset-demo."
  end
end

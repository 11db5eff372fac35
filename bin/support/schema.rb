# frozen_string_literal: true

# Draws the data model from the database as it is: bin/handrail schema
# writes docs/data-model.md, one Mermaid drawing of tables, columns and foreign keys for each part of the house.

require_relative "../../lib/handrail"

module Handrail
  # The tables of the database as Mermaid drawings.
  class Schema
    # which tables stand together; what is not named here comes last, so that no new table goes undrawn
    PARTS = {
      "Clinic and people" => %w[
        clinics
        group_codes
        work_places
        sent_records
        coming_records
        set_up_links
        accounts
        account_
        audit_
      ],
      "Catalogue" => %w[makers products chart_ stock_],
      "Fittings and visits" => %w[
        patients
        prescriptions
        fittings
        fitting_pins
        protocols
        visits
        entries
        visit_summaries
        reading_pairs
        repeatabilities
      ],
      "Written at a visit" => [""]
    }.freeze
    # on every row that is written at a visit, and said once
    COMMON = %i[clinic_id by at version].freeze
    FILE = File.join(ROOT, "docs", "data-model.md")

    # Writes the page. Returns its path.
    def self.write = FILE.tap { |path| File.write(path, new(Store.db).page) }

    def initialize(db) = @db = db

    # The page as Markdown.
    def page
      parts = grouped.map { |title, tables| "## #{title}\n\n```mermaid\n#{drawing(tables)}```\n" }
      <<~TEXT.strip.concat("\n")
        # The data model

        Drawn from the schema by `bin/handrail schema`; do not edit it by hand. Every table of a
        clinic carries `clinic_id`,
        and its foreign keys are (clinic_id, column), so that no row can name another clinic's. Rows written at a visit
        carry `visit_id`, `version` (the entry they came with), `by` and `at`; these are left out below.

        #{parts.join("\n")}
      TEXT
    end

    private

    def grouped
      left = @db.tables.map(&:to_s).sort - ["schema_info"]
      PARTS.transform_values do |names|
        left.select { |table| names.any? { |name| of?(table, name) } }.tap { |own| left -= own }
      end
    end

    # name - a table's whole name, the beginning of one ("chart_"), or "" for any
    def of?(table, name)
      table == name || ((name.empty? || name.end_with?("_")) && table.start_with?(name))
    end

    def drawing(tables)
      lines =
        tables.flat_map { |table| table_lines(table) } + tables.flat_map { |table| arrows(table) }
      "erDiagram\n#{lines.map { |line| "  #{line}\n" }.join}"
    end

    def table_lines(table)
      foreign = keys(table).flat_map { |key| key[:columns] }
      columns = @db.schema(table.to_sym).to_h.except(*left_out(table))
      rows =
        columns.map do |name, about|
          mark =
            if about[:primary_key]
              " PK"
            else
              foreign.include?(name) ? " FK" : ""
            end
          "  #{about[:db_type].gsub(/\W+/, "_")} #{name}#{mark}"
        end
      ["#{table} {", *rows, "}"]
    end

    def left_out(table) =
      @db.schema(table.to_sym).map(&:first).include?(:version) ? COMMON : COMMON.first(1)

    def arrows(table)
      keys(table)
        .reject { |key| key[:table] == :clinics }
        .map do |key|
          column =
            key[:columns].find { |name| !COMMON.first(1).include?(name) } || key[:columns].first
          "#{key[:table]} ||--o{ #{table} : #{column}"
        end
        .uniq
    end

    def keys(table) = @db.foreign_key_list(table.to_sym)
  end
end

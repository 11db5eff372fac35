# frozen_string_literal: true

require_relative "../support/tables"

Sequel.migration do
  up do
    run "CREATE EXTENSION IF NOT EXISTS pg_trgm"

    Tables.owned(self, :patients) do
      String :record_number, null: false
      String :species, null: false, default: "human"
      String :given_name, null: false
      String :family_name
      String :owner_name
      Date :born_on, null: false
      String :phone
      String :note
      Integer :version, null: false, default: 0
      # what identifies: "C 77", "c 77" and "C  77" are one number
      String :record_key,
             generated_always_as:
               Sequel.lit("upper(regexp_replace(trim(record_number), '\\s+', ' ', 'g'))")
      check species: %w[human dog]
      constraint(
        :animal_has_owner,
        Sequel.lit("species = 'human' OR length(trim(coalesce(owner_name, ''))) > 0")
      )
      constraint(
        :human_has_family_name,
        Sequel.lit("species <> 'human' OR length(trim(coalesce(family_name, ''))) > 0")
      )
      constraint(:given_name_said, Tables.said(:given_name))
      constraint(:record_number_said, Tables.said(:record_number))
      constraint(
        :born_on_likely,
        Sequel.lit("born_on BETWEEN DATE '1900-01-01' AND DATE '2100-01-01'")
      )
      unique %i[clinic_id record_key]
      index %i[clinic_id family_name given_name id]
    end

    # people are found by any part of name, owner, number or date of birth
    run <<~SQL
      CREATE FUNCTION patient_text(given text, family text, owner text, number text, born date) RETURNS text
      LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
        SELECT lower(concat_ws(' ', given, family, owner, number, extract(year from born)::text || '-' ||
          lpad(extract(month from born)::text, 2, '0') || '-' || lpad(extract(day from born)::text, 2, '0'),
          lpad(extract(day from born)::text, 2, '0') || ' ' ||
          (ARRAY['jan','feb','mar','apr','may','jun','jul','aug','sep','oct','nov','dec'])
            [extract(month from born)::int]
          || ' ' || extract(year from born)::text))
      $$;
      ALTER TABLE patients ADD COLUMN search_text text
        GENERATED ALWAYS AS (patient_text(given_name, family_name, owner_name, record_number, born_on)) STORED;
      CREATE INDEX patients_search ON patients USING gin (search_text gin_trgm_ops);
    SQL

    Tables.owned(self, :makers) do
      String :name, null: false
      unique %i[clinic_id name]
      constraint(:name_said, Tables.said(:name))
    end

    Tables.owned(self, :products, parents: { maker_id: :makers }) do
      String :family, null: false
      String :name, null: false
      column :options, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
      TrueClass :offered, null: false, default: true
      unique %i[maker_id name]
      constraint(:name_said, Tables.said(:name))
    end

    Tables.owned(self, :chart_revisions, parents: { product_id: :products }) do
      Date :dated, null: false
      String :tie_rule, null: false, default: "larger"
      String :primary_site
      check tie_rule: %w[larger smaller nearest primary]
      constraint(:primary_named, Sequel.lit("tie_rule <> 'primary' OR primary_site IS NOT NULL"))
      unique %i[product_id dated]
    end

    Tables.owned(self, :chart_sizes, parents: { chart_revision_id: :chart_revisions }) do
      String :part, null: false, default: ""
      String :name, null: false
      Integer :position, null: false
      unique %i[chart_revision_id part name]
      unique %i[chart_revision_id position]
    end

    Tables.owned(self, :chart_bands, parents: { chart_size_id: :chart_sizes }) do
      String :site, null: false
      BigDecimal :min_mm, null: false
      BigDecimal :max_mm, null: false
      String :unit, null: false
      String :posture
      String :tension
      constraint(:band_not_reversed, Sequel.lit("min_mm <= max_mm AND min_mm >= 0"))
      check unit: %w[mm cm m in ft]
      check posture: %w[standing sitting lying raised]
      check tension: %w[resting snug firm hard]
      unique %i[chart_size_id site]
    end

    %i[chart_revisions chart_sizes chart_bands].each { |table| Tables.append_only(self, table) }
  end

  down { drop_table :chart_bands, :chart_sizes, :chart_revisions, :products, :makers, :patients }
end

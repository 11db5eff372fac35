# frozen_string_literal: true

require_relative "../../lib/handrail"

Sequel.migration do
  up do
    schema = Handrail::Store::Schema

    schema.owned(self, :patients) do
      String :record_number, null: false
      String :species, null: false, default: "human"
      String :given_name, null: false
      String :family_name
      String :owner_name
      Date :born_on, null: false
      String :phone
      String :note
      Integer :version, null: false, default: 0
      check species: %w[human dog]
      constraint(:animal_has_owner, "species = 'human' OR length(trim(coalesce(owner_name, ''))) > 0")
      constraint(:human_has_family_name, "species <> 'human' OR length(trim(coalesce(family_name, ''))) > 0")
      constraint(:given_name_said, "length(trim(coalesce(given_name, ''))) > 0")
      constraint(:record_number_said, "length(trim(coalesce(record_number, ''))) > 0")
      constraint(:born_on_likely, "born_on BETWEEN DATE '1900-01-01' AND DATE '2100-01-01'")
      unique %i[clinic_id record_number]
    end

    schema.owned(self, :makers) do
      String :name, null: false
      unique %i[clinic_id name]
    end

    schema.owned(self, :products, parents: { maker_id: :makers }) do
      String :family, null: false
      String :name, null: false
      column :options, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
      TrueClass :offered, null: false, default: true
      unique %i[maker_id name]
    end

    schema.owned(self, :chart_revisions, parents: { product_id: :products }) do
      Date :dated, null: false
      String :tie_rule, null: false, default: "larger"
      String :primary_site
      check tie_rule: %w[larger smaller nearest primary]
      constraint(:primary_named, "tie_rule <> 'primary' OR primary_site IS NOT NULL")
      unique %i[product_id dated]
    end

    schema.owned(self, :chart_sizes, parents: { chart_revision_id: :chart_revisions }) do
      String :part, null: false, default: ""
      String :name, null: false
      Integer :position, null: false
      unique %i[chart_revision_id part name]
      unique %i[chart_revision_id position]
    end

    schema.owned(self, :chart_bands, parents: { chart_size_id: :chart_sizes }) do
      String :site, null: false
      BigDecimal :min_mm, null: false
      BigDecimal :max_mm, null: false
      String :unit, null: false
      String :posture
      String :tension
      constraint(:band_not_reversed, "min_mm <= max_mm AND min_mm >= 0")
      check unit: %w[mm cm m in ft]
      unique %i[chart_size_id site]
    end
  end

  down { drop_table :chart_bands, :chart_sizes, :chart_revisions, :products, :makers, :patients }
end

# frozen_string_literal: true

require_relative "../support/tables"

# Girths of a limb at levels, for its volume; parts that were renewed, and when they are due; sizes
# that are about to change; the calendar that somebody else's program may read.
Sequel.migration do
  up do
    Tables.at_visit(self, :limb_girths) do
      String :side, null: false
      BigDecimal :level_mm, null: false
      BigDecimal :girth_mm, null: false
      String :typed, null: false
      String :unit, null: false
      check side: Tables::SIDES
      check unit: %w[mm cm in]
      constraint(:girth_sound, Sequel.lit("girth_mm > 0 AND girth_mm <= 2000"))
      constraint(:level_sound, Sequel.lit("level_mm BETWEEN -1000 AND 2000"))
    end
    Tables.append_only(self, :limb_girths)

    Tables.at_visit(self, :part_renewals, closed: false) do
      String :part, null: false
      Date :renewed_on, null: false
      String :note
      constraint(:part_said, Tables.said(:part))
    end
    Tables.append_only(self, :part_renewals)

    # kept with every entry: what of a fitting is due when. kind - a part, or a size that ends
    create_table :fitting_dues do
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      column :fitting_id, :Bignum, null: false
      column :visit_id, :Bignum, null: false
      String :kind, null: false
      String :key, null: false
      String :label, null: false
      Date :due_on, null: false
      foreign_key %i[clinic_id fitting_id], :fittings, key: %i[clinic_id id]
      foreign_key %i[clinic_id visit_id], :visits, key: %i[clinic_id id]
      primary_key %i[fitting_id kind key]
      constraint(:kind_known, kind: %w[part size])
      index %i[clinic_id due_on]
    end

    # what a calendar program reads with; only its digest is kept
    create_table :calendar_keys do
      foreign_key :account_id, :accounts, type: :Bignum, primary_key: true
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      String :digest, null: false, unique: true
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
    end
  end

  down do
    raise Sequel::Error,
          "What was written at visits is not thrown away: use bin/start --reset-demo."
  end
end

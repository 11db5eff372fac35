# frozen_string_literal: true

require_relative "../../lib/handrail"

Sequel.migration do
  up do
    schema = Handrail::Store::Schema

    schema.at_visit(self, :safety_questions) do
      TrueClass :identity, null: false
      column :stops, :jsonb, null: false
      column :care, :jsonb, null: false
      String :note
    end

    schema.at_visit(self, :readings, parents: { corrects_id: :readings }, optional: [:corrects_id]) do
      String :site, null: false
      String :side
      String :posture, null: false
      String :tension, null: false
      String :typed, null: false
      String :unit, null: false
      BigDecimal :value_mm, null: false
      String :tape, null: false
      uuid :entry_key, null: false
      String :question
      column :answered_at, :timestamptz
      foreign_key :answered_by, :accounts, type: :Bignum
      column :struck_at, :timestamptz
      foreign_key :struck_by, :accounts, type: :Bignum
      String :strike_reason
      String :correction_reason
      check side: %w[left right]
      constraint(:value_positive, "value_mm > 0")
      constraint(:struck_with_reason, "(struck_at IS NULL) = (strike_reason IS NULL) AND (struck_at IS NULL) = (struck_by IS NULL)")
      constraint(:corrected_with_reason, "(corrects_id IS NULL) = (correction_reason IS NULL)")
      unique %i[clinic_id entry_key]
    end

    schema.at_visit(self, :size_choices, parents: { chart_revision_id: :chart_revisions }) do
      String :verdict, null: false
      String :advised
      String :chosen, null: false
      Float :probability
      BigDecimal :margin_mm
      String :reason, null: false, text: true
      String :why_different
      column :configuration, :jsonb, null: false
      constraint(:other_size_has_reason, "advised IS NOT DISTINCT FROM chosen OR length(trim(coalesce(why_different, ''))) > 0")
      constraint(:probability_in_range, "probability BETWEEN 0 AND 1")
    end

    schema.at_visit(self, :issued_devices, parents: { fitting_id: :fittings, product_id: :products }) do
      String :size, null: false
      String :serial
      String :lot
      column :configuration, :jsonb, null: false
      constraint(:traceable, "length(trim(coalesce(serial, ''))) > 0 OR length(trim(coalesce(lot, ''))) > 0")
    end

    schema.at_visit(self, :steps_done) do
      String :step, null: false
      String :note
      unique %i[visit_id step]
    end

    schema.at_visit(self, :check_results, parents: { corrects_id: :check_results }, optional: [:corrects_id]) do
      String :check_key, null: false
      String :outcome, null: false
      BigDecimal :value_mm
      String :typed
      String :note
      uuid :entry_key, null: false
      String :correction_reason
      check outcome: %w[good bad]
      constraint(:corrected_with_reason, "(corrects_id IS NULL) = (correction_reason IS NULL)")
      unique %i[clinic_id entry_key]
    end

    schema.at_visit(self, :changes) do
      String :problem, null: false
      String :remedy, null: false
      String :title, null: false
      column :opens, :jsonb, null: false
      String :goes_to
      String :note
    end

    schema.at_visit(self, :strap_settings) do
      String :setting, null: false
      String :typed, null: false
      BigDecimal :value_mm
      String :kind, null: false
      check kind: %w[reference least]
    end

    schema.at_visit(self, :recheck_answers) do
      String :field, null: false
      String :answer, null: false
      TrueClass :stop, null: false, default: false
    end

    schema.at_visit(self, :teach_backs) do
      String :who, null: false
      TrueClass :unaided, null: false
      column :shown, :jsonb, null: false
      column :mistakes, :jsonb, null: false
      String :note
      constraint(:who_said, "length(trim(coalesce(who, ''))) > 0")
    end

    schema.at_visit(self, :overrides) do
      String :gate, null: false
      column :blocks, :jsonb, null: false
      String :reason, null: false
      constraint(:reason_said, "length(trim(coalesce(reason, ''))) >= 5")
    end

    schema.at_visit(self, :hand_overs, parents: { fitting_id: :fittings, issued_device_id: :issued_devices }) do
      String :start_hours, null: false
      String :signed_name, null: false
      String :signature, text: true
      unique :fitting_id
      constraint(:signed, "length(trim(coalesce(signed_name, ''))) > 0")
      constraint(:signature_is_a_path, "signature ~ '^[ML0-9. ]*$'")
    end

    # said afterwards; the visit itself stays as it was
    schema.at_visit(self, :visit_notes, closed: false) do
      String :text, null: false, text: true
      constraint(:text_said, "length(trim(coalesce(text, ''))) > 0")
    end
    run "CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON visit_notes FOR EACH ROW EXECUTE FUNCTION refuse_change()"
    run "CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON overrides FOR EACH ROW EXECUTE FUNCTION refuse_change()"
  end

  down do
    drop_table :visit_notes, :hand_overs, :overrides, :teach_backs, :recheck_answers, :strap_settings, :changes, :check_results,
               :steps_done, :issued_devices, :size_choices, :readings, :safety_questions
  end
end

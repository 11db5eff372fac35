# frozen_string_literal: true

require_relative "../support/tables"

Sequel.migration do
  up do
    Tables.at_visit(self, :safety_questions) do
      TrueClass :identity, null: false
      column :stops, :jsonb, null: false
      column :care, :jsonb, null: false
      String :note
      # what was computed from the pressures asked for, as typed and as found
      column :pressures, :jsonb
      column :findings, :jsonb
    end

    # what was done about a stop sign, or about a pressure index that is not known or not reliable
    Tables.at_visit(self, :stop_actions) do
      String :stop, null: false
      String :action, null: false
      String :who, null: false
      String :advice, null: false, text: true
      check action: %w[referred advised emergency]
      constraint(:who_said, Tables.said(:who))
      constraint(:advice_said, Tables.said(:advice))
    end

    Tables.at_visit(
      self,
      :readings,
      parents: {
        corrects_id: :readings,
        struck_by: :accounts,
        answered_by: :accounts
      },
      optional: %i[corrects_id struck_by answered_by]
    ) do
      String :site, null: false
      String :side
      String :posture, null: false
      String :tension, null: false
      String :typed, null: false
      String :unit, null: false
      BigDecimal :value_mm, null: false
      String :tape, null: false
      column :question, :jsonb
      column :answered_at, :timestamptz
      column :struck_at, :timestamptz
      String :strike_reason
      String :correction_reason
      check side: Tables::SIDES
      check unit: %w[mm cm m in ft]
      check posture: %w[standing sitting lying raised]
      check tension: %w[resting snug firm hard]
      check tape: ["cm 1 mm", "cm 0.5", "in 1/8", "in 1/4"]
      constraint(:value_positive, Sequel.lit("value_mm > 0"))
      constraint(:typed_in_bounds, Sequel.lit("length(typed) <= 40"))
      constraint(
        :struck_with_reason,
        Sequel.lit(
          "(struck_at IS NULL) = (strike_reason IS NULL) AND (struck_at IS NULL) = (struck_by " \
            "IS NULL)"
        )
      )
      constraint(:answered_by_someone, Sequel.lit("(answered_at IS NULL) = (answered_by IS NULL)"))
      constraint(
        :corrected_with_reason,
        Sequel.lit("(corrects_id IS NULL) = (correction_reason IS NULL)")
      )
      unique :corrects_id
    end

    Tables.at_visit(
      self,
      :size_choices,
      parents: {
        chart_revision_id: :chart_revisions
      },
      optional: [:chart_revision_id]
    ) do
      String :side
      String :verdict, null: false
      String :advised
      String :chosen, null: false
      Float :probability
      BigDecimal :margin_mm
      String :reason, null: false, text: true
      String :why_different
      column :sheet, :jsonb
      column :configuration, :jsonb, null: false
      check side: Tables::SIDES
      constraint(:on_something, Sequel.lit("chart_revision_id IS NOT NULL OR sheet IS NOT NULL"))
      constraint(
        :other_size_has_reason,
        Sequel.lit(
          "advised IS NOT DISTINCT FROM chosen OR length(trim(coalesce(why_different, ''))) > 0"
        )
      )
      constraint(:probability_in_range, Sequel.lit("probability BETWEEN 0 AND 1"))
    end

    Tables.at_visit(self, :size_trials) do
      String :side
      String :size, null: false
      String :outcome, null: false
      check side: Tables::SIDES
      check outcome: %w[good small large]
    end

    # the shelf: one row a piece
    Tables.owned(
      self,
      :stock_items,
      parents: {
        product_id: :products,
        fitting_id: :fittings
      },
      optional: [:fitting_id]
    ) do
      String :size, null: false
      String :side, null: false, default: ""
      # the side of the fitting that holds it
      String :held_side, null: false, default: ""
      String :lot
      String :state, null: false, default: "shelf"
      column :received_at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      check state: %w[shelf reserved taken gone]
      check side: ["", "left", "right"]
      check held_side: ["", "left", "right"]
      constraint(:size_said, Tables.said(:size))
      constraint(
        :held_for_someone,
        Sequel.lit("(state IN ('reserved', 'taken')) = (fitting_id IS NOT NULL)")
      )
      index %i[clinic_id product_id size state]
    end

    Tables.owned(self, :stock_levels, parents: { product_id: :products }) do
      String :size, null: false
      String :side, null: false, default: ""
      Integer :least, null: false
      check side: ["", "left", "right"]
      constraint(:least_sound, Sequel.lit("least BETWEEN 0 AND 999"))
      unique %i[product_id size side]
    end

    Tables.at_visit(
      self,
      :issued_devices,
      parents: {
        fitting_id: :fittings,
        product_id: :products,
        stock_item_id: :stock_items,
        ended_by: :accounts
      },
      optional: %i[stock_item_id ended_by]
    ) do
      String :side
      String :size, null: false
      String :serial
      String :lot
      column :configuration, :jsonb, null: false
      column :ended_at, :timestamptz
      String :ended_why
      check side: Tables::SIDES
      check ended_why: %w[replaced written_anew returned]
      constraint(:end_has_reason, Sequel.lit("(ended_at IS NULL) = (ended_why IS NULL)"))
      constraint(
        :traceable,
        Sequel.lit("length(trim(coalesce(serial, ''))) > 0 OR length(trim(coalesce(lot, ''))) > 0")
      )
    end

    run "CREATE UNIQUE INDEX issued_devices_piece_once ON issued_devices (stock_item_id) WHERE ended_at IS NULL"
    run "CREATE UNIQUE INDEX issued_devices_one_worn ON issued_devices (fitting_id, coalesce(side, '')) " \
          "WHERE ended_at IS NULL"

    Tables.at_visit(self, :steps_done) do
      String :side
      String :place, null: false, default: ""
      String :step, null: false
      String :note
      check side: Tables::SIDES
    end
    run "CREATE UNIQUE INDEX steps_done_once ON steps_done (visit_id, coalesce(side, ''), step, place)"

    Tables.at_visit(
      self,
      :check_results,
      parents: {
        corrects_id: :check_results
      },
      optional: [:corrects_id]
    ) do
      String :side
      String :place, null: false, default: ""
      String :check_key, null: false
      String :outcome, null: false
      # yes/no, or the quantity in the base unit of its kind: mm, degrees, mmHg, pieces, points, seconds
      String :kind, null: false
      BigDecimal :value
      String :typed
      String :note
      String :correction_reason
      check side: Tables::SIDES
      check outcome: %w[good bad]
      check kind: %w[yes_no length angle pressure count score duration]
      constraint(:value_where_measured, Sequel.lit("(kind = 'yes_no') = (value IS NULL)"))
      constraint(
        :corrected_with_reason,
        Sequel.lit("(corrects_id IS NULL) = (correction_reason IS NULL)")
      )
      unique :corrects_id
    end

    Tables.at_visit(self, :changes) do
      String :side
      String :place, null: false, default: ""
      String :problem, null: false
      String :remedy, null: false
      String :title, null: false
      column :opens, :jsonb, null: false
      String :goes_to
      String :note
      check side: Tables::SIDES
    end

    Tables.at_visit(self, :strap_settings) do
      String :side
      String :setting, null: false
      String :typed, null: false
      BigDecimal :value_mm
      String :kind, null: false
      check side: Tables::SIDES
      check kind: %w[reference least]
    end

    Tables.at_visit(self, :recheck_answers) do
      String :side
      String :field, null: false
      String :answer, null: false
      TrueClass :stop, null: false, default: false
      check side: Tables::SIDES
    end

    Tables.at_visit(self, :teach_backs) do
      String :side
      String :who, null: false
      TrueClass :unaided, null: false
      column :shown, :jsonb, null: false
      column :mistakes, :jsonb, null: false
      String :note
      check side: Tables::SIDES
      constraint(:who_said, Tables.said(:who))
    end

    # a senior's word: which blocks it lets pass, and what each rested on
    Tables.at_visit(self, :overrides) do
      column :blocks, :jsonb, null: false
      String :reason, null: false
      constraint(:reason_said, Sequel.lit("length(trim(coalesce(reason, ''))) >= 5"))
      constraint(:names_something, Sequel.lit("jsonb_array_length(blocks) > 0"))
    end

    Tables.at_visit(self, :hand_overs, parents: { fitting_id: :fittings }) do
      String :start_hours, null: false
      String :signed_name, null: false
      String :signature, text: true
      unique :fitting_id
      constraint(:signed, Tables.said(:signed_name))
      constraint(:signature_is_a_path, Sequel.lit("signature ~ '^[ML0-9. ]*$'"))
    end

    # said afterwards; the visit itself stays as it was
    Tables.at_visit(self, :visit_notes, closed: false) do
      String :text, null: false, text: true
      constraint(:text_said, Tables.said(:text))
    end

    %i[
      visit_notes
      overrides
      hand_overs
      stop_actions
      safety_questions
      changes
      teach_backs
      check_results
    ].each { |table| Tables.append_only(self, table) }
  end

  down do
    raise Sequel::Error,
          "What was written at visits is not thrown away: use bin/start --reset-demo."
  end
end

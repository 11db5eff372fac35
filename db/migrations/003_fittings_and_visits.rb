# frozen_string_literal: true

require_relative "../../lib/handrail"

Sequel.migration do
  up do
    schema = Handrail::Store::Schema

    schema.owned(self, :prescriptions, parents: { patient_id: :patients }) do
      String :family, null: false
      String :side
      column :fields, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
      String :prescriber, null: false
      Date :prescribed_on, null: false
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      foreign_key :by, :accounts, type: :Bignum, null: false
      check side: %w[left right]
      constraint(:prescriber_said, "length(trim(coalesce(prescriber, ''))) > 0")
    end

    schema.owned(self, :fittings, parents: { patient_id: :patients, prescription_id: :prescriptions, product_id: :products }) do
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      foreign_key :by, :accounts, type: :Bignum, null: false
      column :ended_at, :timestamptz
      String :ended_why
      constraint(:end_has_reason, "(ended_at IS NULL) = (ended_why IS NULL)")
    end

    schema.owned(self, :visits, parents: { fitting_id: :fittings }) do
      String :purpose, null: false
      String :plan_key
      Date :due_from
      Date :due_to
      column :planned_for, :timestamptz
      column :opened_at, :timestamptz
      foreign_key :opened_by, :accounts, type: :Bignum
      column :closed_at, :timestamptz
      foreign_key :closed_by, :accounts, type: :Bignum
      Integer :version, null: false, default: 0
      check purpose: %w[first recheck]
      constraint(:opened_before_closed, "closed_at IS NULL OR (opened_at IS NOT NULL AND closed_at >= opened_at)")
      constraint(:closed_by_someone, "(closed_at IS NULL) = (closed_by IS NULL)")
      constraint(:window_not_reversed, "due_from <= due_to")
      index %i[clinic_id planned_for]
      index %i[clinic_id due_to]
    end
    run "CREATE UNIQUE INDEX visits_one_first ON visits (fitting_id) WHERE purpose = 'first'"
    run <<~SQL
      CREATE FUNCTION keep_closed_visit() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        IF OLD.closed_at IS NOT NULL AND (TG_OP = 'DELETE' OR to_jsonb(OLD) - 'version' <> to_jsonb(NEW) - 'version') THEN
          RAISE EXCEPTION 'the visit is closed' USING ERRCODE = 'restrict_violation';
        END IF;
        RETURN COALESCE(NEW, OLD);
      END $$;
      CREATE TRIGGER closed_visit BEFORE UPDATE OR DELETE ON visits FOR EACH ROW EXECUTE FUNCTION keep_closed_visit();
    SQL

    # what happened at a visit, in words; its version orders everything, and tells a page what it has not seen yet
    create_table(:visit_events) do
      primary_key :id, type: :Bignum
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      Bignum :visit_id, null: false
      Integer :version, null: false
      String :topic, null: false
      String :said, null: false
      String :page
      foreign_key :by, :accounts, type: :Bignum, null: false
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      foreign_key %i[clinic_id visit_id], :visits, key: %i[clinic_id id]
      unique %i[visit_id version]
    end
    run "CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON visit_events FOR EACH ROW EXECUTE FUNCTION refuse_change()"
  end

  down { drop_table :visit_events, :visits, :fittings, :prescriptions }
end

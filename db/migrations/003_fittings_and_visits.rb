# frozen_string_literal: true

require_relative "../support/tables"

Sequel.migration do
  up do
    # a family's whole protocol as it stood; a fitting names the one it runs on
    Tables.owned(self, :protocols) do
      String :digest, null: false
      String :family, null: false
      String :text, null: false, text: true
      unique %i[clinic_id digest]
      constraint(:digest_is_one, Sequel.lit("digest ~ '^[0-9a-f]{64}$'"))
    end
    Tables.append_only(self, :protocols)

    Tables.signed(self, :prescriptions, parents: { patient_id: :patients }) do
      String :family, null: false
      String :side
      column :fields, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
      String :prescriber, null: false
      Date :prescribed_on, null: false
      check side: %w[left right both]
      constraint(:prescriber_said, Tables.said(:prescriber))
    end

    Tables.signed(
      self,
      :fittings,
      parents: {
        patient_id: :patients,
        prescription_id: :prescriptions,
        product_id: :products
      }
    ) do
      column :ended_at, :timestamptz
      String :ended_why
      constraint(:end_has_reason, Sequel.lit("(ended_at IS NULL) = (ended_why IS NULL)"))
    end

    Tables.owned(
      self,
      :visits,
      parents: {
        fitting_id: :fittings,
        opened_by: :accounts,
        closed_by: :accounts
      },
      optional: %i[opened_by closed_by]
    ) do
      String :purpose, null: false
      String :plan_key
      Date :due_from
      Date :due_to
      column :planned_for, :timestamptz
      column :opened_at, :timestamptz
      column :closed_at, :timestamptz
      # a planned visit that no longer takes place
      column :called_off_at, :timestamptz
      Integer :version, null: false, default: 0
      check purpose: %w[first recheck]
      constraint(
        :opened_before_closed,
        Sequel.lit("closed_at IS NULL OR (opened_at IS NOT NULL AND closed_at >= opened_at)")
      )
      constraint(:closed_by_someone, Sequel.lit("(closed_at IS NULL) = (closed_by IS NULL)"))
      constraint(:window_not_reversed, Sequel.lit("due_from <= due_to"))
      constraint(:version_counts, Sequel.lit("version >= 0"))
      constraint(:called_off_unopened, Sequel.lit("called_off_at IS NULL OR opened_at IS NULL"))
      index %i[clinic_id planned_for]
      index %i[clinic_id due_to],
            where: Sequel.lit("opened_at IS NULL AND closed_at IS NULL AND called_off_at IS NULL")
      index %i[clinic_id opened_at],
            where: Sequel.lit("opened_at IS NOT NULL AND closed_at IS NULL"),
            name: :visits_under_way
    end
    run "CREATE UNIQUE INDEX visits_one_first ON visits (fitting_id) WHERE purpose = 'first'"
    run "CREATE UNIQUE INDEX visits_one_planned ON visits (fitting_id) " \
          "WHERE purpose = 'recheck' AND closed_at IS NULL AND called_off_at IS NULL"
    run <<~SQL
      CREATE FUNCTION keep_closed_visit() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        IF OLD.closed_at IS NOT NULL
           AND (TG_OP = 'DELETE' OR to_jsonb(OLD) - 'version' <> to_jsonb(NEW) - 'version') THEN
          RAISE EXCEPTION 'the visit is closed' USING ERRCODE = 'restrict_violation';
        END IF;
        RETURN COALESCE(NEW, OLD);
      END $$;
      CREATE TRIGGER closed_visit BEFORE UPDATE OR DELETE ON visits
        FOR EACH ROW EXECUTE FUNCTION keep_closed_visit();
    SQL

    # everything that was entered, once: its version orders the entries of a visit and tells a page what it has not
    # seen yet; its key makes sure that what is sent twice is kept once. Entries without a visit are the clinic's.
    Tables.signed(self, :entries, parents: { visit_id: :visits }, optional: [:visit_id]) do
      Integer :version
      String :command, null: false
      String :topic, null: false
      String :said, null: false, text: true
      String :page
      uuid :entry_key, null: false
      String :digest, null: false
      column :result, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
      constraint(:version_with_visit, Sequel.lit("(visit_id IS NULL) = (version IS NULL)"))
      constraint(:version_counts, Sequel.lit("version > 0"))
      unique %i[visit_id version]
      unique %i[visit_id entry_key]
    end
    run "CREATE UNIQUE INDEX entries_of_clinic ON entries (clinic_id, entry_key) WHERE visit_id IS NULL"
    Tables.append_only(self, :entries)

    # what a fitting is made on: protocol, product and its options, chart, methods. The first comes with the order,
    # later ones with an entry at a visit; the newest at or before a visit is the one that the visit reads.
    Tables.signed(
      self,
      :fitting_pins,
      parents: {
        fitting_id: :fittings,
        protocol_id: :protocols,
        visit_id: :visits,
        chart_revision_id: :chart_revisions
      },
      optional: %i[visit_id chart_revision_id]
    ) do
      Integer :version
      String :maker_name, null: false
      String :product_name, null: false
      column :options, :jsonb, null: false
      column :methods, :jsonb, null: false
      # what was offered and left: the digest of the offer, so that it is not offered again
      String :left_offer
      constraint(:version_with_visit, Sequel.lit("(visit_id IS NULL) = (version IS NULL)"))
      foreign_key %i[visit_id version],
                  :entries,
                  key: %i[visit_id version],
                  name: :fitting_pins_entry_fkey
    end
    Tables.append_only(self, :fitting_pins)
    run "CREATE UNIQUE INDEX fitting_pins_first ON fitting_pins (fitting_id) WHERE visit_id IS NULL"
  end

  down { drop_table :fitting_pins, :entries, :visits, :fittings, :prescriptions, :protocols }
end

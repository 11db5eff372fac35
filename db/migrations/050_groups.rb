# frozen_string_literal: true

require_relative "../support/tables"

# Clinics can belong to a group with an office of its own, which sees their figures and never a patient. Somebody who
# works in two clinics of a group signs in once and chooses; a wearer who goes to another one is sent there with their
# consent; the office's catalogue is offered to all of them.
Sequel.migration do
  up do
    # office - a group's office: it has people, and no patients; group_key - the key of the office, group_name as it is
    # called: of a clinic that belongs to a group, and of the office itself
    alter_table(:clinics) do
      add_column :office, TrueClass, null: false, default: false
      add_column :group_key, :uuid
      add_column :group_name, String
      add_constraint(:office_of_itself, Sequel.lit("NOT office OR group_key = key"))
      add_constraint(:group_whole, Sequel.lit("num_nulls(group_key, group_name) IN (0, 2)"))
      add_index :group_key
    end

    # a code by which a clinic joins a group, made by the office; only its digest is kept
    Tables.signed(self, :group_codes) do
      String :digest, null: false, unique: true
      column :expires_at, :timestamptz, null: false
      column :used_at, :timestamptz
      String :used_by
    end

    # where else somebody works: their account at another clinic of the group, shown by its password once. It stands at
    # both places, and counts only while it does.
    Tables.owned(self, :work_places, parents: { account_id: :accounts }) do
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      column :other_clinic_id, :Bignum, null: false
      column :other_account_id, :Bignum, null: false
      String :other_name, null: false
      unique %i[account_id other_account_id]
    end

    # a wearer's record on its way to another clinic of the group: who said yes to it and when, and what became of it
    Tables.signed(self, :sent_records, parents: { patient_id: :patients }) do
      column :key, :uuid, null: false, unique: true
      column :to_clinic_id, :Bignum, null: false
      String :to_name, null: false
      String :consent_by, null: false
      column :consent_on, :date, null: false
      column :delivered_at, :timestamptz
      column :taken_at, :timestamptz
      String :taken_as
      constraint(:consent_said, Tables.said(:consent_by))
      constraint(:taken_whole, Sequel.lit("num_nulls(taken_at, taken_as) IN (0, 2)"))
    end

    # the same where it comes to, with everything in it until it was taken or sent back
    Tables.owned(
      self,
      :coming_records,
      parents: {
        ended_by: :accounts
      },
      optional: %i[ended_by],
      audit: false
    ) do
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      column :key, :uuid, null: false, unique: true
      column :from_clinic_id, :Bignum, null: false
      String :from_name, null: false
      String :from_record, null: false
      String :wearer, null: false
      String :consent, null: false
      column :bytes, :bytea
      column :ended_at, :timestamptz
      String :ended_as
      constraint(:size_bounded, Sequel.lit("octet_length(bytes) BETWEEN 1 AND 50000000"))
      constraint(:ended_known, ended_as: %w[taken refused])
      constraint(:ended_whole, Sequel.lit("num_nulls(ended_at, ended_as) IN (0, 2)"))
    end

    %i[group_codes work_places sent_records coming_records].each do |table|
      run "CREATE TRIGGER held BEFORE INSERT OR UPDATE OR DELETE ON #{literal(table)} " \
            "FOR EACH ROW EXECUTE FUNCTION refuse_held()"
    end

    run <<~SQL
      CREATE FUNCTION refuse_office() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        IF EXISTS (SELECT 1 FROM clinics WHERE id = NEW.clinic_id AND office) THEN
          RAISE EXCEPTION 'the office of a group has no patients' USING ERRCODE = 'check_violation';
        END IF;
        RETURN NEW;
      END $$;
      CREATE TRIGGER no_patients BEFORE INSERT ON patients FOR EACH ROW EXECUTE FUNCTION refuse_office();
    SQL
  end

  down do
    run "DROP TRIGGER no_patients ON patients; DROP FUNCTION refuse_office()"
    drop_table :coming_records, :sent_records, :work_places, :group_codes
    alter_table(:clinics) do
      drop_constraint :group_whole
      drop_constraint :office_of_itself
      drop_column :group_name
      drop_column :group_key
      drop_column :office
    end
  end
end

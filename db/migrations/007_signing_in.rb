# frozen_string_literal: true

require_relative "../support/tables"

# Signing in that nobody can be shut out of: a log in place of lockouts, one-time codes, and what a clinic asks for;
# and the practice patient, who counts nowhere.
Sequel.migration do
  up do
    alter_table(:clinics) do
      add_column :codes_required, TrueClass, null: false, default: false
      # what a senior settled: texts on papers, windows, hours; read through Store::Choices
      add_column :choices, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
    end

    # what the clinic's settings said when a fitting was pinned: windows, repeats, what no word lets pass
    alter_table(:fitting_pins) do
      add_column :settings, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
    end

    # the keys that someone has chosen for themselves: action => key
    alter_table(:accounts) do
      add_column :own_keys, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
    end

    # every try to sign in, also by who is not known; what an unknown person typed is not kept, it may be a password
    create_table(:sign_ins) do
      primary_key :id, type: :Bignum
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      foreign_key :clinic_id, :clinics, type: :Bignum
      foreign_key :account_id, :accounts, type: :Bignum
      String :what, null: false
      String :address, null: false
      check what: %w[
              signed_in
              signed_out
              wrong_password
              unknown
              wrong_code
              held_back
              confirmed
              not_confirmed
            ]
      index %i[clinic_id at]
    end
    run <<~SQL
      INSERT INTO sign_ins (at, clinic_id, account_id, what, address)
      SELECT l.at, a.clinic_id, a.id,
             CASE l.message WHEN 'login' THEN 'signed_in' WHEN 'logout' THEN 'signed_out' ELSE 'wrong_password' END,
             coalesce(l.metadata->>'ip', '')
      FROM account_authentication_audit_logs l JOIN accounts a ON a.id = l.account_id
      WHERE l.message IN ('login', 'logout', 'login_failure') ORDER BY l.id
    SQL
    Tables.append_only(self, :sign_ins)
    drop_table :account_authentication_audit_logs, :account_lockouts, :account_login_failures

    # one-time codes, as Rodauth keeps them
    create_table(:account_otp_keys) do
      foreign_key :id, :accounts, primary_key: true, type: :Bignum
      String :key, null: false
      Integer :num_failures, null: false, default: 0
      Time :last_use, null: false, default: Sequel::CURRENT_TIMESTAMP
    end
    create_table(:account_recovery_codes) do
      foreign_key :id, :accounts, type: :Bignum
      String :code
      primary_key %i[id code]
    end
    alter_table(:account_events) do
      drop_constraint :account_events_what_check
      add_constraint(
        :account_events_what_check,
        what: %w[
          joined
          role
          closed
          reset_link
          password
          name
          sessions_ended
          keys
          codes_on
          codes_off
          codes_taken_off
        ]
      )
    end

    alter_table(:patients) { add_column :practice, TrueClass, null: false, default: false }
    alter_table(:visits) { add_column :practice, TrueClass, null: false, default: false }
    run "CREATE UNIQUE INDEX patients_one_practice ON patients (clinic_id) WHERE practice"

    # the audit is written by its trigger alone, whoever works: the application's role can not write it by hand
    run "ALTER FUNCTION write_audit() SECURITY DEFINER SET search_path = public"
  end

  down do
    raise Sequel::Error, "The log of signing in is not thrown away: bring the backup back instead."
  end
end

# frozen_string_literal: true

require_relative "../support/tables"

Sequel.migration do
  up do
    create_table(:clinics) do
      primary_key :id, type: :Bignum
      String :name, null: false
      String :place, null: false
      String :phone
      String :time_zone, null: false, default: "UTC"
      String :tape, null: false, default: "cm 1 mm"
      TrueClass :bedside_routine, null: false, default: true
      TrueClass :demo, null: false, default: false
      column :demo_loaded_at, :timestamptz
      constraint(:name_said, Tables.said(:name))
      check tape: ["cm 1 mm", "cm 0.5", "in 1/8", "in 1/4"]
    end

    create_table(:accounts) do
      primary_key :id, type: :Bignum
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      String :email, null: false
      String :name, null: false
      String :role, null: false
      # 1 not yet confirmed, 2 open, 3 closed
      Integer :status_id, null: false, default: 2
      String :password_hash
      check role: %w[fitter senior front_desk]
      check status_id: [1, 2, 3]
      unique %i[clinic_id id]
      index Sequel.function(:lower, :email), unique: true, name: :accounts_email_key
    end

    # sign-in: failures, lockouts, live sessions, and a log of every sign-in
    create_table(:account_login_failures) do
      foreign_key :id, :accounts, primary_key: true, type: :Bignum
      Integer :number, null: false, default: 1
    end
    create_table(:account_lockouts) do
      foreign_key :id, :accounts, primary_key: true, type: :Bignum
      String :key, null: false
      DateTime :deadline, null: false
      DateTime :email_last_sent
    end
    create_table(:account_active_session_keys) do
      foreign_key :account_id, :accounts, type: :Bignum
      String :session_id
      Time :created_at, null: false, default: Sequel::CURRENT_TIMESTAMP
      Time :last_use, null: false, default: Sequel::CURRENT_TIMESTAMP
      primary_key %i[account_id session_id]
    end
    create_table(:account_authentication_audit_logs) do
      primary_key :id, type: :Bignum
      foreign_key :account_id, :accounts, null: false, type: :Bignum
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      String :message, null: false
      column :metadata, :jsonb
      index %i[account_id at]
    end

    # who changed what, when: written by triggers, so that no path round it exists
    create_table(:audit_entries) do
      primary_key :id, type: :Bignum
      Bignum :clinic_id, null: false
      String :table_name, null: false
      Bignum :row_id, null: false
      Bignum :visit_id
      String :action, null: false
      Bignum :account_id
      column :at, :timestamptz, null: false, default: Sequel.lit("clock_timestamp()")
      column :before, :jsonb
      column :after, :jsonb
      index %i[clinic_id table_name row_id]
      index %i[clinic_id at]
      index %i[visit_id id], where: Sequel.lit("visit_id IS NOT NULL")
    end
    run <<~SQL
      CREATE FUNCTION write_audit() RETURNS trigger LANGUAGE plpgsql AS $$
      DECLARE
        was jsonb := CASE WHEN TG_OP = 'INSERT' THEN NULL ELSE to_jsonb(OLD) END;
        now jsonb := CASE WHEN TG_OP = 'DELETE' THEN NULL ELSE to_jsonb(NEW) END;
        own jsonb := COALESCE(now, was);
      BEGIN
        INSERT INTO audit_entries (clinic_id, table_name, row_id, visit_id, action, account_id, before, after)
        VALUES ((own->>'clinic_id')::bigint, TG_TABLE_NAME, (own->>'id')::bigint,
                CASE WHEN TG_TABLE_NAME = 'visits' THEN (own->>'id')::bigint ELSE (own->>'visit_id')::bigint END,
                lower(TG_OP), NULLIF(current_setting('handrail.account', true), '')::bigint, was, now);
        RETURN NULL;
      END $$;
      CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        RAISE EXCEPTION '% takes new rows only', TG_TABLE_NAME USING ERRCODE = 'restrict_violation';
      END $$;
      CREATE FUNCTION refuse_closed_visit() RETURNS trigger LANGUAGE plpgsql AS $$
      DECLARE
        closed timestamptz;
      BEGIN
        IF TG_OP = 'INSERT' AND to_jsonb(NEW)->>'corrects_id' IS NOT NULL THEN
          RETURN NEW;
        END IF;
        -- that a device is no longer worn is written on its row later
        IF TG_OP = 'UPDATE' AND TG_TABLE_NAME = 'issued_devices' AND to_jsonb(OLD)->>'ended_at' IS NULL
           AND to_jsonb(OLD) - '{ended_at,ended_why,ended_by}'::text[]
             = to_jsonb(NEW) - '{ended_at,ended_why,ended_by}'::text[] THEN
          RETURN NEW;
        END IF;
        SELECT closed_at INTO closed FROM visits WHERE id = COALESCE(OLD.visit_id, NEW.visit_id);
        IF closed IS NOT NULL THEN
          RAISE EXCEPTION 'the visit is closed: %', TG_TABLE_NAME USING ERRCODE = 'restrict_violation';
        END IF;
        RETURN COALESCE(NEW, OLD);
      END $$;
    SQL
    Tables.append_only(self, :audit_entries)
  end

  down do
    raise Sequel::Error,
          "The first migration is not undone: use bin/start --reset-demo to start over."
  end
end

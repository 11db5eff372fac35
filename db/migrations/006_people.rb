# frozen_string_literal: true

require_relative "../support/tables"

# Links that open a clinic or an account, and what was done to accounts.
Sequel.migration do
  up do
    alter_table(:clinics) do
      add_column :address, String
      # keys of the families that the clinic fits; nothing for all of them
      add_column :families, :jsonb
    end

    # a link that makes the first senior of a new clinic; it belongs to no clinic yet
    create_table(:set_up_links) do
      primary_key :id, type: :Bignum
      String :token_digest, null: false, unique: true
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      column :expires_at, :timestamptz, null: false
      column :used_at, :timestamptz
    end

    # a link that lets someone join a clinic, or set a new password; works once
    Tables.signed(
      self,
      :account_links,
      parents: {
        account_id: :accounts
      },
      optional: %i[account_id]
    ) do
      String :purpose, null: false
      String :email, null: false
      String :role
      String :token_digest, null: false, unique: true
      column :expires_at, :timestamptz, null: false
      column :used_at, :timestamptz
      check purpose: %w[join reset]
      check role: %w[fitter senior front_desk]
      constraint(:reset_has_account, Sequel.lit("(purpose = 'reset') = (account_id IS NOT NULL)"))
      constraint(:join_has_role, Sequel.lit("(purpose = 'join') = (role IS NOT NULL)"))
    end

    # what was done to an account, and by whom; nothing of a password
    Tables.signed(self, :account_events, parents: { account_id: :accounts }) do
      String :what, null: false
      String :detail
      check what: %w[joined role closed reset_link password name sessions_ended]
      index %i[clinic_id at]
    end
    Tables.append_only(self, :account_events)
  end

  down do
    drop_table :account_events, :account_links, :set_up_links
    alter_table(:clinics) do
      drop_column :address
      drop_column :families
    end
  end
end

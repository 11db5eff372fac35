# frozen_string_literal: true

# How somebody likes to work at the couch, see Store::Ways: names of what is switched on, and an event that says that
# it was changed.
Sequel.migration do
  up do
    add_column :accounts, :own_ways, :jsonb, null: false, default: Sequel.lit("'[]'::jsonb")
    before = %w[
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
    alter_table(:account_events) do
      drop_constraint :account_events_what_check
      add_constraint(:account_events_what_check, what: [*before, "ways"])
    end
  end

  down { drop_column :accounts, :own_ways }
end

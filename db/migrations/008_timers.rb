# frozen_string_literal: true

require_relative "../support/tables"

# Timers that run at a visit: colour and warmth, the skin that can not feel.
Sequel.migration do
  up do
    Tables.at_visit(
      self,
      :visit_timers,
      parents: {
        answered_by: :accounts
      },
      optional: %i[answered_by]
    ) do
      String :timer, null: false
      String :side
      String :label, null: false
      Integer :minutes, null: false
      column :rings_at, :timestamptz, null: false
      column :answered_at, :timestamptz
      String :answer
      String :note
      check side: Tables::SIDES
      check answer: %w[good bad stopped]
      constraint(:minutes_in_bounds, minutes: 1..240)
      constraint(
        :answered_whole,
        Sequel.lit(
          "(answered_at IS NULL) = (answer IS NULL) AND " \
            "(answered_at IS NULL) = (answered_by IS NULL)"
        )
      )
    end
    run "CREATE UNIQUE INDEX visit_timers_running ON visit_timers (visit_id, timer, coalesce(side, '')) " \
          "WHERE answered_at IS NULL"
    run "CREATE INDEX visit_timers_open ON visit_timers (clinic_id) WHERE answered_at IS NULL"
  end

  down { drop_table :visit_timers }
end

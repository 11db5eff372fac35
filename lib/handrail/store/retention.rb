# frozen_string_literal: true

module Handrail
  module Store
    # What is forgotten by a clock, and when: rows that belong to the working of the server, never to a record of care.
    # A new rule is an entry of RULES; who reads such a table asks for what stands, and every row that has ended goes
    # with the next sweep.
    #
    #   Retention.standing(:waiting_files).where(id: 5).get(:bytes) # => nil after a day
    #   Retention.sweep                                             # => { waiting_files: 3, ... }
    #
    # It is no rule for records: those of wearers, and what was done to accounts, are never forgotten by a clock.
    module Retention
      # column - when a row began, or where it says itself when it ends, that; seconds - how long it stands after; why -
      # for whoever reads the rule.
      Rule = Value.new(:column, :seconds, :why)

      RULES = {
        tries:
          Rule[
            column: :ends_at,
            seconds: 0,
            why: "a count of tries says itself how long it counts"
          ],
        waiting_files:
          Rule[column: :at, seconds: 86_400, why: "looked at and not taken is not wanted"],
        device_presses:
          Rule[column: :at, seconds: 86_400, why: "a device that was silent for a day begins anew"],
        device_benches:
          Rule[
            column: :at,
            seconds: 12 * 3600,
            why: "an instrument lies at a bench for a working day"
          ]
      }.freeze

      # one call in so many sweeps, see `sweep_at_times`
      AT_TIMES = 200

      class << self
        # What began (or ends) before this time has ended. table - a key of RULES
        def since(table) = Store.now - RULES.fetch(table).seconds

        # The rows of a table that have not ended.
        def standing(table)
          Store.db[table].where(Sequel[table][RULES.fetch(table).column] > since(table))
        end

        # Takes out what has ended: table => how many rows that were. A row that somebody holds goes another time.
        def sweep
          RULES.to_h do |table, rule|
            ended = Store.db[table].where(Sequel[table][rule.column] <= since(table))
            [table, Store.db[table].where(ctid: ended.select(:ctid).for_update.skip_locked).delete]
          end
        end

        # Sweeps with one call in AT_TIMES: asked where rows are written that end soon.
        def sweep_at_times = (sweep if rand(AT_TIMES).zero?)
      end
    end
  end
end

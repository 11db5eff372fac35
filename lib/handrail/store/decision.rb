# frozen_string_literal: true

module Handrail
  module Store
    # What a command makes of a visit as it stands under the lock: what to say of it, the rows to
    # add, the rows to change, and what else is to happen. A Decision does nothing by itself; the
    # Ledger carries it out.
    #
    # said    - the entry in words
    # rows    - [[table, values], ...] to add; clinic, visit, who, when and version come from the
    #           Ledger
    # updates - [[table, id, values], ...] to change
    # visit   - values of the visit's own row to change
    # effects - Effects: stock that is held, taken or given back, visits that are planned
    # result  - what the page needs to go on, kept with the entry
    Decision =
      Value.new(:said, :rows, :updates, :visit, :effects, :result) do
        # said - the entry in words; table => values for one row each.
        def self.insert(said, result: {}, effects: [], **tables)
          self[
            said: said,
            rows: tables.to_a,
            updates: [],
            visit: {
            },
            effects: effects,
            result: result
          ]
        end

        # Values as the rows have them, nil where nothing was given.
        def self.of(said, rows: [], updates: [], visit: {}, effects: [], result: {})
          self[
            said: said,
            rows: rows,
            updates: updates,
            visit: visit,
            effects: effects,
            result: result
          ]
        end

        # The visit is closed: what is held is worn from now on, and the next recheck is planned.
        # window - when it is to be, as a Followup::Window, or nil.
        def self.closing(said, visit, window, rows: [])
          of(
            said,
            rows: rows,
            visit: {
              closed_at: Store.now,
              closed_by: :account
            },
            effects: [
              Effects::TakePieces[fitting_id: visit.fitting.id],
              Effects::PlanRecheck[window: window]
            ]
          )
        end
      end
  end
end

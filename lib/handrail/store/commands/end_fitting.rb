# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Ends a fitting: the device is no longer worn, or was replaced by another order. What is
      # still planned is taken off the board; pieces that are only held go back to the shelf.
      #
      #   EndFitting.new("why" => "healed, no device needed")
      class EndFitting < VisitCommand
        input :why,
              :text,
              least: 5,
              most: 300,
              missing: "Say why it ends.",
              short: "Say why it ends in a few words."

        def topic = "end"
        def watch = [//]
        def correction? = true
        def opens? = false

        def decide(visit)
          unacceptable("why", "This fitting has ended already.") if visit.ended?
          open = visit.at(visit.visits.reverse.find(&:opened_at) || visit.row).own_stops
          if open.any?
            unacceptable(
              "why",
              "A stop sign is open: #{Wording.stop(open.first)}. Write first what was done about it."
            )
          end

          held =
            visit.source.stock.select { |row| row[:state] == "reserved" }.map { |row| row[:id] }
          Decision.of(
            "fitting ended: #{why}",
            updates: worn(visit).map { |id| [:issued_devices, id, returned] },
            effects: [Effects::GiveBack[ids: held], Effects::EndFitting[why: why]]
          )
        end

        private

        def worn(visit)
          devices = visit.visits.flat_map { |row| visit.source.rows(:issued_devices, row.id) }
          devices.reject { |device| device[:ended_at] }.map { |device| device[:id] }
        end

        def returned = { ended_at: Store.now, ended_why: "returned", ended_by: :account }
      end
    end
  end
end

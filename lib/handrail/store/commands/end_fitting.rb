# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Ends a fitting: the device is no longer worn, or was replaced by another order. What is
      # still planned is taken off the board; pieces that are only held go back to the shelf. Of a pair one
      # side may end by itself: the other goes on as if it alone had been ordered.
      #
      #   EndFitting.new("why" => "healed, no device needed")
      #   EndFitting.new("why" => "the left leg is healed", "side" => "left")
      class EndFitting < VisitCommand
        input :why,
              :text,
              least: 5,
              most: 300,
              missing: "Say why it ends.",
              short: "Say why it ends in a few words."

        input :side, :key

        def topic = "end"
        def watch = [//]
        def correction? = true
        def opens? = false

        def decide(visit)
          unacceptable("why", "This fitting has ended already.") if visit.ended?
          newest = visit.newest
          one = one_of_two(visit, newest)
          open = newest.own_stops.find { |stop| one.nil? || stop.side.nil? || stop.side == one }
          if open
            unacceptable(
              "why",
              "A stop sign is open: #{Wording.stop(open)}. Write first what was done about it."
            )
          end
          one ? side_ends(visit, one) : all_ends(visit)
        end

        private

        # the side that is meant, nil for all there is
        def one_of_two(visit, newest)
          return if side.to_s.empty?

          worn = newest.sides - visit.rows_of_fitting(:side_ends).map { |row| row[:side] }
          return if worn == [side]

          # visits between would otherwise say another thing than when they were closed
          unless newest.id == visit.id
            unacceptable("side", "One side ends at the newest visit: open the record of that one.")
          end
          return side if worn.include?(side)

          unacceptable("side", "That side is not worn: #{worn.compact.join(", ")}.")
        end

        def all_ends(visit)
          held =
            visit.source.stock.select { |row| row[:state] == "reserved" }.map { |row| row[:id] }
          Decision.of(
            "fitting ended: #{why}",
            updates: worn(visit).map { |id| [:issued_devices, id, returned] },
            effects: [Effects::GiveBack[ids: held], Effects::EndFitting[why: why]]
          )
        end

        def side_ends(visit, one)
          Decision.of(
            "#{one} side ended: #{why}",
            rows: [[:side_ends, { side: one, why: why, here: !visit.closed? }]],
            updates: worn(visit, one).map { |id| [:issued_devices, id, returned] }
          )
        end

        # ids of the devices that are worn, of one side where that is said
        def worn(visit, one = nil)
          visit
            .rows_of_fitting(:issued_devices)
            .reject { |device| device[:ended_at] || (one && device[:side] != one) }
            .map { |device| device[:id] }
        end

        def returned = { ended_at: Store.now, ended_why: "returned", ended_by: :account }
      end
    end
  end
end

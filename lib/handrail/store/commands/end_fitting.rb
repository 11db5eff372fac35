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
              missing: t(:say_why_ends),
              short: t(:say_why_ends_few)

        input :side, :key

        def topic = "end"
        def watch = [//]
        def correction? = true
        def opens? = false

        def decide(visit)
          unacceptable("why", t(:fitting_has_ended_already)) if visit.ended?
          newest = visit.newest
          one = one_of_two(visit, newest)
          open =
            newest.safety.own_stops.find { |stop| one.nil? || stop.side.nil? || stop.side == one }
          unacceptable("why", t(:stop_sign_open_write, open: Wording.stop(open))) if open
          one ? side_ends(visit, one) : all_ends(visit)
        end

        private

        # the side that is meant, nil for all there is
        def one_of_two(visit, newest)
          return if side.to_s.empty?

          worn = newest.sides - visit.rows_of_fitting(:side_ends).map { |row| row[:side] }
          return if worn == [side]

          # visits between would otherwise say another thing than when they were closed
          unacceptable("side", t(:one_side_ends_newest)) unless newest.id == visit.id
          return side if worn.include?(side)

          unacceptable("side", t(:side_not_worn, sides: worn.compact.join(", ")))
        end

        def all_ends(visit)
          held =
            visit.source.stock.select { |row| row[:state] == "reserved" }.map { |row| row[:id] }
          Decision.of(
            t(:fitting_ended, why: why),
            updates: worn(visit).map { |id| [:issued_devices, id, returned] },
            effects: [Effects::GiveBack[ids: held], Effects::EndFitting[why: why]]
          )
        end

        def side_ends(visit, one)
          Decision.of(
            t(:side_ended, one: one, why: why),
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

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A booked visit does not take place: the wearer did not come, or it was cancelled. The visit
      # itself stays open with the window in which it is due, so that the board goes on asking for it.
      #
      #   MissVisit.new("why" => "no_show", "note" => "nobody answers the telephone")
      class MissVisit < VisitCommand
        include Told

        WHY = Wording.names("missed")

        role :anyone
        input :why, :one_of, of: WHY.keys, missing: t(:say_how_missed)
        input :note, :line, most: 200, default: nil

        def topic = "booking"
        def opens? = false

        def decide(visit)
          at = visit.planned_for or unacceptable("why", t(:visit_not_booked))
          unacceptable("why", t(:visit_has_begun_took)) if visit.begun_as_booked?
          unacceptable("why", t(:they_here)) if why == "no_show" && visit.arrived_at
          unacceptable("why", t(:time_has_not_come)) if why == "no_show" && at > Store.now

          local = visit.clinic.local(at)
          Decision.of(
            [
              WHY.fetch(why),
              local.strftime("%-d %b %Y, %H:%M"),
              ("(#{note})" if note)
            ].compact.join(" "),
            rows: [
              [
                :missed_visits,
                {
                  planned_for: at,
                  planned_to: visit.planned_to,
                  planned_with: visit.planned_with,
                  why: why,
                  note: note
                }
              ],
              *told(visit, why, at)
            ],
            visit: {
              planned_for: nil,
              planned_to: nil,
              planned_with: nil,
              planned_room: nil,
              arrived_at: nil
            }
          )
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Books a planned visit, or moves it. Day and time are the clinic's; the front desk books too.
      # How long it takes is the clinic's rule for its kind, unless it is said. With whom and where
      # may be left open.
      #
      #   BookVisit.new("day" => "24 Nov 2026", "time" => "09:40", "with" => "3", "room" => "Room 2")
      class BookVisit < VisitCommand
        include Told
        include BookingValues

        role :anyone

        def topic = "booking"
        def opens? = false

        def decide(visit)
          raise Closed if visit.row.called_off_at

          @planning = visit.source.planning
          lasting = minutes || planning.minutes(visit.purpose)
          from, to = booked_at(visit.clinic, lasting, but: visit.id, kept: visit.planned_room)
          Decision.of(
            booked_said(visit.clinic, from, visit.planned_room),
            rows: told(visit, visit.planned_for ? "moved" : "booked", from),
            visit: {
              planned_for: from,
              planned_to: to,
              planned_with: fitter&.id,
              planned_room: place(visit.planned_room),
              arrived_at: (visit.arrived_at if day == visit.clinic.today)
            }
          )
        end

        # two were booked into one time at once: the database took the first
        def doubled(_error) = Unacceptable.new("time", MEETS)

        private

        attr_reader :planning
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A wearer has come for today's visit, or was said to be here by mistake. Whoever is at the
      # desk notes it; the visit itself begins with the first thing that is done at it.
      #
      #   NoteArrival.new("came" => "yes")
      class NoteArrival < VisitCommand
        role :anyone
        input :came, :flag

        def topic = "arrival"
        def opens? = false

        def decide(visit)
          raise Closed if visit.closed? || visit.row.called_off_at
          return if came == !visit.arrived_at.nil?

          unacceptable("came", t(:visit_has_begun)) if visit.begun_as_booked?
          return Decision.of(t(:not_here_after_all), visit: { arrived_at: nil }) unless came

          unless visit.planned_for && visit.clinic.today(visit.planned_for) == visit.clinic.today
            unacceptable("came", t(:visit_not_booked_today))
          end
          Decision.of(t(:is_here), visit: { arrived_at: Store.now })
        end
      end
    end
  end
end

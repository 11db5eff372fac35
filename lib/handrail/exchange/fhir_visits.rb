# frozen_string_literal: true

module Handrail
  module Exchange
    # When a visit is and was, and what is planned after it, as FHIR Appointment, Procedure and CarePlan. Part of Fhir.
    module FhirVisits
      private

      def appointment(visit)
        from = visit.planned_for
        add(
          "Appointment",
          "visit-#{visit.id}",
          status: appointment_status(visit),
          serviceType: [own(visit.purpose, visit.first? ? "First fitting" : "Recheck")],
          start: instant(from),
          end: instant(visit.planned_to || (from + (30 * 60))),
          participant:
            [whom, *staff(visit), *room(visit)].map do |actor|
              { "actor" => actor, "status" => "accepted" }
            end
        )
      end

      def appointment_status(visit)
        return "cancelled" if visit.row.called_off_at
        return "fulfilled" if visit.closed?

        visit.arrived_at ? "arrived" : "booked"
      end

      def staff(visit)
        [
          (
            if visit.planned_with
              practitioner(visit.planned_with, visit.name_of(visit.planned_with))
            end
          )
        ].compact
      end

      def room(visit) = [({ "display" => visit.planned_room } if visit.planned_room)].compact

      def procedure(visit)
        add(
          "Procedure",
          "fitting-#{visit.id}",
          status: visit.closed? ? "completed" : "in-progress",
          code:
            own(
              visit.first? ? "fitting" : "recheck",
              visit.first? ? "Fitting of an orthosis" : "Recheck of an orthosis"
            ),
          subject: whom,
          performedPeriod: {
            "start" => instant(visit.opened_at),
            "end" => visit.closed_at&.then { |at| instant(at) }
          }.compact,
          basedOn: [reference("ServiceRequest", "order-#{visit.prescription.id}")],
          note:
            visit
              .notes
              .map { |row| { "text" => row[:text], "time" => instant(row[:at]) } }
              .then { |all| all unless all.empty? }
        )
      end

      # a hand-over's own: at a recheck, of the sides on which it gave something out
      def plan(visit)
        given = visit.hand_over_here
        add(
          "CarePlan",
          visit.first? ? "plan-#{visit.fitting.id}" : "plan-visit-#{visit.id}",
          status: worn_by?(visit, given) ? "active" : "completed",
          intent: "plan",
          title: ["Wearing and rechecks", *visit.wear.given_side].join(", "),
          description: given[:start_hours],
          subject: whom,
          created: instant(given[:at])
        )
      end

      # whether something is still worn by this hand-over
      def worn_by?(visit, given)
        newest = visit.newest
        return false if visit.fitting.ended_at

        worn = newest.sides.reject { |side| newest.sizing.device(side)&.fetch(:ended_at) }
        worn.any? { |side| newest.wear.hand_over_of(side)[:id] == given[:id] }
      end
    end
  end
end

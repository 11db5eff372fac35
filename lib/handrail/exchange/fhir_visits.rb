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

      def plan(visit)
        add(
          "CarePlan",
          "plan-#{visit.fitting.id}",
          status: visit.fitting.ended_at ? "completed" : "active",
          intent: "plan",
          title: "Wearing and rechecks",
          description: visit.hand_over[:start_hours],
          subject: whom,
          created: instant(visit.hand_over[:at])
        )
      end
    end
  end
end

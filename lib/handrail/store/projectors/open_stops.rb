# frozen_string_literal: true

module Handrail
  module Store
    module Projectors
      # The open stop signs of a fitting that hold the wearer's other devices as well: a stop follows
      # the wearer. What concerns one order alone, and limits of its product, stay with it.
      class OpenStops < Projector
        keeps :open_stops,
              keys: %i[key],
              values: %i[visit_id patient_id side body holds urgency title text figures version],
              practice: true
        reads :safety_questions,
              :stop_actions,
              :recheck_answers,
              :skin_findings,
              :changes,
              :order_corrections,
              :side_ends,
              :visit_timers,
              :entries

        def rows
          visit = visits.reverse.find(&:opened_at) or return []
          visit
            .safety
            .own_stops
            .reject { |stop| stop.holds == "order" }
            .map { |stop| row(visit, stop) }
        end

        private

        def owner(_row) = { clinic_id: clinic.id, fitting_id: fitting.id }

        def row(visit, stop)
          {
            key: stop.key,
            visit_id: visit.id,
            patient_id: visit.patient.id,
            side: stop.side,
            body: visit.sizing.figure.body,
            holds: stop.holds,
            urgency: stop.urgency.to_s,
            title: visit.title,
            text: stop.text,
            figures: stop.figures.to_h,
            version: stop.seq
          }
        end
      end
    end
  end
end

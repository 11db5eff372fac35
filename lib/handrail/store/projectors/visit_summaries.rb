# frozen_string_literal: true

module Handrail
  module Store
    module Projectors
      # Where each visit stands and what it needs next, see Fitting::NextStep: for the board, the
      # week and the patient's page.
      class VisitSummaries < Projector
        keeps :visit_summaries,
              keys: %i[visit_id],
              values: %i[patient_id title stage state finding figures done],
              practice: true
        reads(*(VisitRows::TABLES - %i[messages papers visit_notes missed_visits]))

        def rows = visits.map { |visit| row(visit, Handrail::Fitting::NextStep.of(visit)) }

        private

        def row(visit, step)
          {
            visit_id: visit.id,
            patient_id: visit.patient.id,
            title: visit.title,
            stage: step.stage.to_s,
            state: step.state.to_s,
            finding: step.finding.to_s,
            figures: step.figures,
            done: step.done.map(&:to_s)
          }
        end
      end
    end
  end
end

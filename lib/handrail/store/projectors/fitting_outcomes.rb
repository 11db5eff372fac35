# frozen_string_literal: true

module Handrail
  module Store
    module Projectors
      # First and last size of each side of a fitting that was handed over, with the probability that
      # was said of the first: what a clinic learns about its charts.
      class FittingOutcomes < Projector
        keeps :fitting_outcomes,
              keys: %i[side],
              values: %i[family product_id revision_id first last probability]
        reads :size_choices, :hand_overs

        def rows
          return [] if visits.none? { |visit| visit.rows(:hand_overs).any? }

          chosen = visits.flat_map { |visit| visit.rows(:size_choices) }.sort_by { |row| row[:id] }
          chosen.group_by { |row| row[:side].to_s }.map { |side, rows| outcome(side, rows) }
        end

        private

        def owner(_row) = { clinic_id: clinic.id, fitting_id: fitting.id }

        def outcome(side, rows)
          first = rows.first
          {
            side: side,
            family: newest.prescription.family,
            product_id: fitting.product_id,
            revision_id: first[:chart_revision_id],
            first: first[:chosen],
            last: rows.last[:chosen],
            probability: first[:probability]
          }
        end
      end
    end
  end
end

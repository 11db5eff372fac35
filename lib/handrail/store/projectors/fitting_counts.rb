# frozen_string_literal: true

module Handrail
  module Store
    module Projectors
      # How often the fit of a fitting was changed, and how many of its rechecks were held.
      class FittingCounts < Projector
        keeps :fitting_counts, keys: [], values: %i[family changes rechecks]
        reads :changes

        def rows
          [
            {
              family: newest.prescription.family,
              changes: visits.sum { |visit| visit.rows(:changes).size },
              rechecks: visits.count { |visit| visit.recheck? && visit.closed? }
            }
          ]
        end

        private

        def owner(_row) = { clinic_id: clinic.id, fitting_id: fitting.id }
      end
    end
  end
end

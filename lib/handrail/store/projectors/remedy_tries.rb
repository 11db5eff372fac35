# frozen_string_literal: true

module Handrail
  module Store
    module Projectors
      # What each remedy came to at a clinic: how often it was tried for a problem, and how often the
      # problem was gone at the next look.
      class RemedyTries < Projector
        keeps :remedy_tries, keys: %i[visit_id problem remedy], values: %i[family tries ended]
        reads :changes, :check_results

        # remedy key => [ended, tries] of a problem, over all visits of a clinic.
        def self.of(clinic, family, problem)
          Store.db[:remedy_tries]
            .where(clinic_id: clinic.id, family: family, problem: problem)
            .group(:remedy)
            .select { [remedy, sum(ended).as(ended), sum(tries).as(tries)] }
            .to_h { |row| [row[:remedy], [row[:ended].to_i, row[:tries].to_i]] }
        end

        def rows = visits.flat_map { |visit| visit.fit.changes.any? ? of_visit(visit) : [] }

        private

        def of_visit(visit)
          visit
            .fit
            .tries
            .group_by { |try| [try.problem, try.remedy] }
            .map do |(problem, remedy), tries|
              {
                visit_id: visit.id,
                family: visit.family.key,
                problem: problem,
                remedy: remedy,
                tries: tries.size,
                ended: tries.count(&:ended)
              }
            end
        end
      end
    end
  end
end

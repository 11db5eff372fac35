# frozen_string_literal: true

module Handrail
  module Store
    # What each remedy came to at a clinic: how often it was tried for a problem, and how often the
    # problem was gone at the next look. Kept with every entry of a visit; the practice patient
    # counts nowhere.
    module RemedyTries
      class << self
        # Brings a visit's rows up to date.
        def keep(visit)
          return if visit.patient.practice

          Store.db[:remedy_tries].where(visit_id: visit.id).delete
          rows = rows_of(visit)
          Store.db[:remedy_tries].multi_insert(rows) if rows.any?
        end

        # remedy key => [ended, tries] of a problem, over all visits of a clinic.
        def of(clinic, family, problem)
          Store.db[:remedy_tries]
            .where(clinic_id: clinic.id, family: family, problem: problem)
            .group(:remedy)
            .select { [remedy, sum(ended).as(ended), sum(tries).as(tries)] }
            .to_h { |row| [row[:remedy], [row[:ended].to_i, row[:tries].to_i]] }
        end

        # Forgets a clinic's, to be made anew.
        def clear(clinic) = Store.db[:remedy_tries].where(clinic_id: clinic.id).delete

        # A visit's rows as they would be made now, in the order of their keys.
        def rows_of(visit)
          visit
            .tries
            .group_by { |try| [try.problem, try.remedy] }
            .sort
            .map do |(problem, remedy), tries|
              {
                clinic_id: visit.clinic.id,
                visit_id: visit.id,
                family: visit.family.key,
                problem: problem,
                remedy: remedy,
                tries: tries.size,
                ended: tries.count(&:ended)
              }
            end
        end

        # Whether what is kept of a visit is what would be made now.
        def kept?(visit)
          made = visit.patient.practice ? [] : rows_of(visit)
          kept = Store.db[:remedy_tries].where(visit_id: visit.id).order(:problem, :remedy)
          kept.all.map { |row| row.except(:id) } == made
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # What pages need of the whole clinic, kept beside the rows that it follows from: one Projector a
    # summary. `keep` runs in the transaction of every entry and makes all of a fitting; `rebuild`
    # makes everything anew, and `differences` proves that both come to the same.
    module Summaries
      ALL = [
        Projectors::VisitSummaries,
        Projectors::ReadingPairs,
        Projectors::RemedyTries,
        Projectors::FittingDues,
        Projectors::OpenStops,
        Projectors::FittingOutcomes,
        Projectors::FittingCounts
      ].freeze

      class << self
        # Brings the summaries of a visit's fitting up to date, and those of the wearer's other devices
        # where a stop sign was raised or dealt with: it holds them too.
        def keep(visit)
          return unless project(visit).include?(Projectors::OpenStops)

          keep_wearer(visit.clinic, visit.patient.id, except: visit.fitting.id)
        end

        # The same of all fittings of a wearer that have not ended, each under its lock.
        def keep_wearer(clinic, patient_id, except: nil)
          ids =
            Fitting
              .where(clinic_id: clinic.id, patient_id: patient_id, ended_at: nil)
              .exclude(id: except)
              .order(:id)
              .lock_style("FOR NO KEY UPDATE")
              .select_map(:id)
          Visits.of_fittings(clinic, ids).each_value { |visits| project(visits.last) }
        end

        # Makes all summaries of a clinic anew. Returns how many visits were read.
        def rebuild(clinic)
          Store.db.transaction do
            ALL.each { |one| one.clear(clinic) }
            count = each_fitting(clinic) { |visits| ALL.each { |one| one.new(visits).keep([]) } }
            ALL.each { |one| one.finish(clinic) }
            count
          end
        end

        # Where a kept summary is not what would be made now: [[table and fitting, kept, made], ...].
        def differences(clinic)
          found = []
          each_fitting(clinic) do |visits|
            kept = kept_of(visits.last)
            ALL.each do |one|
              one
                .new(visits)
                .changes(kept.fetch(one.table))
                .each { |was, is| found << [[one.table, visits.last.fitting.id], was, is] }
            end
          end
          found + ALL.flat_map { |one| one.differences(clinic) }
        end

        # What is kept of some fittings, as datasets by name, see Gathered. ids - an expression for the fittings' ids
        def sets(ids) =
          ALL.to_h do |one|
            own = {
              one.by_fitting? ? :fitting_id : :visit_id => one.by_fitting? ? ids : visits_of(ids)
            }
            [one.table.to_s, Store.db[one.table].where(clinic_id: :$clinic).where(own)]
          end

        # The same once it was read: table => rows.
        def rows_of(found) =
          ALL.to_h { |one| [one.table, VisitRows.exact(one.table, found[one.table.to_s])] }

        private

        def visits_of(ids) =
          Store.db[:visits].where(clinic_id: :$clinic, fitting_id: ids).select(:id)

        # the Projectors whose rows came out otherwise
        def project(visit)
          visits = visit.visits.map { |row| visit.at(row) }
          kept = visit.source.hand_over_kept || kept_of(visit)
          visit.by_edition { ALL.select { |one| one.new(visits).keep(kept.fetch(one.table)).any? } }
        end

        # table => rows that are kept of a visit's fitting
        def kept_of(visit)
          whose = { clinic: visit.clinic.id, fitting: visit.fitting.id }
          rows_of(Gathered.read(:summaries_kept, **whose) { sets(:$fitting) })
        end

        # every fitting of a clinic, some at a time; how many visits they have
        def each_fitting(clinic)
          count = 0
          Fitting
            .where(clinic_id: clinic.id)
            .order(:id)
            .select_map(:id)
            .each_slice(500) do |ids|
              Visits
                .of_fittings(clinic, ids)
                .each_value do |visits|
                  count += visits.size
                  visits.last.by_edition { yield visits }
                end
            end
          count
        end
      end
    end
  end
end

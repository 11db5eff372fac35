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

        private

        # the Projectors whose rows came out otherwise
        def project(visit)
          visits = visit.visits.map { |row| visit.at(row) }
          kept = kept_of(visit)
          visit.by_edition { ALL.select { |one| one.new(visits).keep(kept.fetch(one.table)).any? } }
        end

        # table => rows that are kept of a visit's fitting, all in one statement
        def kept_of(visit)
          whose = {
            clinic: visit.clinic.id,
            ids: visit.visits.map(&:id).join(","),
            fitting: visit.fitting.id
          }
          found =
            Store
              .prepared(:summaries_kept, **whose) do
                ALL
                  .map { |one| kept_in(one) }
                  .reduce { |a, b| a.union(b, all: true, from_self: false) }
              end
              .group_by { |row| row[:name].to_sym }
          ALL.to_h do |one|
            rows = found.fetch(one.table, [])
            [one.table, rows.map { |row| VisitRows.parse(one.table, row[:row]) }]
          end
        end

        def kept_in(projector)
          table = projector.table
          set = Store.db[table].where(clinic_id: :$clinic)
          of_fitting =
            (
              if projector.by_fitting?
                { fitting_id: :$fitting }
              else
                { visit_id: Store.among(:$ids) }
              end
            )
          set.where(of_fitting).select(
            Sequel.cast(table.to_s, String).as(:name),
            Sequel.cast(Sequel.function(:row_to_json, table), String).as(:row)
          )
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

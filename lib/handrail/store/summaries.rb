# frozen_string_literal: true

module Handrail
  module Store
    # What pages need of the whole clinic, kept beside the rows that it follows from: one Projector a
    # summary. `keep` runs in the transaction of every entry and makes all of a fitting; `rebuild`
    # makes everything anew, and `differences` proves that both come to the same. `catch_up` is for a program that
    # was changed: which one made what is kept stands beside it.
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

        # Makes the summaries of a clinic's fittings as this program makes them, while others go on writing: a few
        # fittings at a time, under their locks, and of those what comes out otherwise. Returns how many fittings
        # that were.
        def renew(clinic)
          ids = Fitting.where(clinic_id: clinic.id).order(:id).select_map(:id)
          ids.each_slice(AT_ONCE).sum { |some| Store.again { renew_some(clinic, some) } }
        end

        # Brings all clinics of the database to what this program makes of them, where another one made what is kept;
        # for the owner of the tables. anew - everything is made anew, the tables were changed. Yields each Clinic
        # and what it came to, see rebuild and renew.
        def catch_up(anew: false)
          return if !anew && current?

          Clinic
            .order(:id)
            .all
            .each do |clinic|
              count = anew ? rebuild(clinic) : renew(clinic)
              yield clinic, count if block_given?
            end
          mark
        end

        # Whether what is kept was made by this program, as far as is written.
        def current?
          table = Sequel.cast(ALL.first.table.to_s, :regclass)
          Store.db.get(Sequel.function(:obj_description, table, "pg_class")) == made_by
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

        # how many fittings are held at once
        AT_ONCE = 20
        # what decides what a summary says
        SOURCES = %w[lib/handrail/core lib/handrail/store knowledge].freeze
        private_constant :AT_ONCE, :SOURCES

        def renew_some(clinic, ids)
          Store.db.transaction do
            held =
              Fitting
                .where(clinic_id: clinic.id, id: ids)
                .order(:id)
                .lock_style("FOR NO KEY UPDATE")
                .select_map(:id)
            Visits.of_fittings(clinic, held).count { |_, visits| project(visits.last).any? }
          end
        end

        def mark
          Store.db.run("COMMENT ON TABLE #{ALL.first.table} IS #{Store.db.literal(made_by)}")
        end

        # a few letters of what all files say from which summaries follow
        def made_by
          files = SOURCES.flat_map { |folder| Dir[File.join(ROOT, folder, "**", "*.{rb,yml}")] }
          said = files.sort.map { |path| Digest::SHA256.file(path).hexdigest }
          "made by #{Digest::SHA256.hexdigest(said.join)[0, 16]}"
        end

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

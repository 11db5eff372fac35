# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What joining two records and parting them have in common: all fittings of both are locked before both wearers,
      # each by their ids, the smallest first.
      module JoinsRecords
        include LocksFittings

        MOVED = %i[
          fittings
          prescriptions
          earlier_readings
          first_appointments
          brought_records
        ].freeze

        private

        # Raises Unacceptable where one of them is none. Returns the Patients by id.
        def locked(clinic, ids)
          lock_fittings(clinic, ids)
          Patient
            .where(clinic_id: clinic.id, id: ids, practice: false)
            .order(:id)
            .for_update
            .as_hash(:id)
        end

        # gives rows of the tables to another record: table => ids
        def give(clinic, rows, to)
          rows.each do |table, ids|
            Store.db[table.to_sym].where(clinic_id: clinic.id, id: ids).update(patient_id: to)
          end
          # what is remembered of a fitting is known by the stamps of its visits
          visits = Visit.where(clinic_id: clinic.id, fitting_id: rows["fittings"].to_a)
          visits.update(version: :version)
          # who is at rest is waited for nowhere, and who is not, everywhere
          visits.where(closed_at: nil).update(resting: !Patient[to].rest.nil?)
        end

        # what follows from the fittings, of both wearers
        def renew(clinic, wearers)
          wearers.each { |one| one.update(version: one.version + 1) }
          ids =
            Fitting
              .where(clinic_id: clinic.id, patient_id: wearers.map(&:id))
              .order(:id)
              .select_map(:id)
          Visits.of_fittings(clinic, ids).each_value { |visits| Summaries.keep(visits.last) }
        end
      end
    end
  end
end

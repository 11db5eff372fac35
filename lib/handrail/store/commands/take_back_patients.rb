# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Takes back patients that were brought in together: all of them or none. Refused once one of
      # them has an order or was changed, since then somebody works with them, and while readings
      # from before are kept of one of them: those are taken back first.
      #
      #   TakeBackPatients.new("key" => entry_key of the entry that brought them in)
      class TakeBackPatients < ClinicCommand
        include BroughtIn

        role :senior
        input :entry, :id

        def perform(clinic, _account)
          ids = brought(clinic, BringPatients, "patients")
          here = Patient.where(clinic_id: clinic.id, id: ids).for_update.all
          refuse!("entry" => (t(:these_were_taken_back) if here.empty?))
          refuse!("entry" => in_use(clinic, here) || read_before(clinic, here))
          Patient.where(clinic_id: clinic.id, id: ids).delete
          [t(:patients_taken_back, many: here.size), {}]
        end

        private

        def read_before(clinic, patients)
          read =
            Store.db[:earlier_readings].where(
              clinic_id: clinic.id,
              patient_id: patients.map(&:id)
            ).select_map(:patient_id)
          one = patients.find { |patient| read.include?(patient.id) } or return
          t(:has_readings_before_take, one: one.name, record_number: one.record_number)
        end

        def in_use(clinic, patients)
          used =
            Store.db[:fittings].where(
              clinic_id: clinic.id,
              patient_id: patients.map(&:id)
            ).select_map(:patient_id)
          one =
            patients.find { |patient| patient.version.positive? || used.include?(patient.id) } or
            return
          t(:changed_since_brought, one: one.name, record_number: one.record_number)
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Changes a wearer's record. Somebody else's change since the form was made is told, not
      # overwritten.
      #
      #   ChangePatient.new("patient" => 17, "seen" => "3", "phone" => "77", ...)
      class ChangePatient < ClinicCommand
        include LocksFittings
        include PatientValues

        input :patient, :id
        input :seen, :count, within: 0..2_000_000_000, missing: t(:load_page_again)

        def perform(clinic, _account)
          lock_fittings(clinic, patient)
          fresh = Patient.where(clinic_id: clinic.id, id: patient).for_update.first or
            unacceptable("patient", t(:no_such_patient))
          raise Stale, PatientChanges.since(fresh, seen) if fresh.version != seen

          unacceptable("patient", t(:practice_patient_nobody_stays)) if fresh.practice
          fresh.update(**values(clinic), version: fresh.version + 1)
          # an identity that was confirmed under the old name counts no longer
          Summaries.keep_wearer(clinic, fresh.id)
          [t(:patient_changed, record_number: fresh.record_number), { "patient" => fresh.id }]
        end

        private

        def faults(clinic) = faults_and_number(super, clinic, except: patient)
      end
    end
  end
end

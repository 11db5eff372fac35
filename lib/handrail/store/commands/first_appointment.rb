# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What the commands of a newcomer's first appointment share: the wearer, and the appointment that is open.
      module FirstAppointment
        private

        def wearer(clinic)
          own = { clinic_id: clinic.id, id: patient, practice: false }
          Patient.where(own).for_update.first or unacceptable("patient", t(:no_such_patient))
        end

        def open_one(clinic) =
          Store.db[:first_appointments].where(
            clinic_id: clinic.id,
            patient_id: patient,
            ended_at: nil
          ).first

        def open_one!(clinic) =
          open_one(clinic) || unacceptable("form", t(:appointment_ended_moved_meanwhile))

        def keep(row, **values)
          Store.db[:first_appointments].where(id: row[:id]).update(
            **values,
            changed_at: Store.now,
            version: row[:version] + 1
          )
          { "patient" => row[:patient_id] }
        end

        def at(clinic, row) = clinic.local(row[:planned_for]).strftime("%-d %b %Y, %H:%M")
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Makes the clinic's practice patient, on whom everything can be tried and who counts nowhere:
      # not on the board, not in the clinic's tapes, not among its wearers, and no piece of the
      # shelf is held for them. There is one.
      class MakePracticePatient < ClinicCommand
        WHO = {
          record_number: "PRACTICE",
          given_name: "Practice",
          family_name: "Patient",
          born_on: Date.new(1970, 1, 1),
          species: "human",
          practice: true
        }.freeze

        def perform(clinic, _account)
          # asked for twice at once, the second finds what the first made
          People.hold(clinic.id)
          there = Patient.where(clinic_id: clinic.id, practice: true).first
          return t(:practice_patient_looked_up), { "patient" => there.id } if there

          [
            t(:practice_patient_made),
            { "patient" => Patient.create(clinic_id: clinic.id, **WHO).id }
          ]
        end

        # the number is somebody's
        def doubled(_error)
          Faults.new("record_number" => t(:record_number_practice_taken))
        end
      end
    end
  end
end

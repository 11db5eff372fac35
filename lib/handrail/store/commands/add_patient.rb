# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Adds a wearer: a person, or an animal with its owner.
      #
      #   AddPatient.new("record_number" => "C 77", "given_name" => "Wilma", "family_name" => "Quarrel", "born_on"
      #   => "14 Mar 1961")
      #
      # Refuses without two identifiers, and a record number that is another patient's, however it
      # is spaced or cased.
      class AddPatient < ClinicCommand
        include PatientValues

        def perform(clinic, _account)
          patient = Patient.create(clinic_id: clinic.id, **values(clinic))
          ["patient added: #{patient.record_number}", { "patient" => patient.id }]
        end
      end
    end
  end
end

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

        # somebody of that name and birthday is there, and this is another one
        input :another, :flag

        def perform(clinic, _account)
          patient = Patient.create(clinic_id: clinic.id, **values(clinic))
          [t(:patient_added, record_number: patient.record_number), { "patient" => patient.id }]
        end

        private

        def faults(clinic)
          found = faults_and_number(super, clinic)
          return found if another || found.compact.any?

          named = [given_name, family_name].compact.join(" ")
          born = Quantity::Day.read(born_on)
          there = Find.same(clinic, record_number: "", name: named, born_on: born).first or
            return found
          words = t(:here_already, first: who(there.first))
          found.merge("another" => words)
        end
      end
    end
  end
end

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
          ["patient added: #{patient.record_number}", { "patient" => patient.id }]
        end

        private

        def faults(clinic)
          found = super
          return found if found.compact.any?

          named = [given_name, family_name].compact.join(" ")
          same =
            Find.same(
              clinic,
              record_number: record_number,
              name: named,
              born_on: Quantity::Day.read(born_on)
            )
          there = same.find { |_, why| why == :number } || (same.first unless another)
          there ? found.merge(already(*there)) : found
        end

        def already(one, why)
          who = "#{one.name}, born #{Quantity::Day.write(one.born_on)}, record #{one.record_number}"
          if why == :number
            return(
              {
                "record_number" =>
                  "Record number #{record_number} belongs to another patient: #{who}."
              }
            )
          end

          {
            "another" =>
              "#{who}, is there already. Open that record; or say that this is another person."
          }
        end
      end
    end
  end
end

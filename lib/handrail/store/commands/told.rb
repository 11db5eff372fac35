# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What a wearer would be told about a visit, as a row of the outbox. Nothing is sent.
      module Told
        private

        # occasion - see Followup::Letters; at - the Time of the visit that it is about
        def told(visit, occasion, at)
          patient = visit.patient
          return [] if patient.practice || patient.rest

          local = visit.clinic.local(at)
          kind = patient.phone.to_s.empty? || occasion == "no_show" ? "letter" : "text"
          [
            [
              :messages,
              {
                patient_id: patient.id,
                kind: kind,
                language: patient.language,
                recipient: kind == "text" ? patient.phone : addressed(patient),
                body:
                  Followup::Letters.say(
                    occasion,
                    patient.language,
                    clinic: visit.clinic.name,
                    phone: visit.clinic.phone,
                    name: addressed(patient),
                    day: local.to_date,
                    time: local.strftime("%H:%M"),
                    animal: patient.animal?
                  )
              }
            ]
          ]
        end

        # an animal's owner is written to
        def addressed(patient) = patient.animal? ? patient.owner_name : patient.name
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What a wearer would be told about a visit, or about the first appointment before there is one, as a row of the
      # outbox. Nothing is sent.
      module Told
        private

        # Rows of a decision. occasion - see Followup::Letters; at - the Time of the visit that it is about
        def told(visit, occasion, at)
          letter = letter_to(visit.patient, visit.clinic, occasion, at, first: visit.first?)
          letter ? [[:messages, letter]] : []
        end

        # The same of a first appointment, written at once. by - the Account.
        def tell_newcomer(patient, clinic, occasion, at, by:)
          letter = letter_to(patient, clinic, occasion, at, first: true) or return
          Store.db[:messages].insert(clinic_id: clinic.id, by: by.id, **letter)
        end

        # nil where nobody is written to
        def letter_to(patient, clinic, occasion, at, first:)
          return if patient.practice || patient.rest

          local = clinic.local(at)
          kind = patient.phone.to_s.empty? || occasion == "no_show" ? "letter" : "text"
          {
            patient_id: patient.id,
            kind: kind,
            language: patient.language,
            recipient: kind == "text" ? patient.phone : addressed(patient),
            body:
              Followup::Letters.say(
                first ? "#{occasion}_first" : occasion,
                patient.language,
                clinic: clinic.name,
                phone: clinic.phone,
                name: addressed(patient),
                day: local.to_date,
                time: local.strftime("%H:%M"),
                animal: patient.animal?
              )
          }
        end

        # an animal's owner is written to
        def addressed(patient) = patient.animal? ? patient.owner_name : patient.name
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Brings in the patients and the readings of a bundle as one: all of them or none. Who is here
      # already under the same number and date of birth is not added again; a reading that is here is
      # passed over.
      #
      #   BringBundle.new("bundle" => the text of the FHIR bundle)
      class BringBundle < ClinicCommand
        input :bundle, :text, most: Exchange::FhirIn::MOST_BYTES, missing: "Choose a file first."

        def perform(clinic, account)
          found = Exchange::FhirIn.read(bundle)
          faults = found.faults.to_h { |place, words| ["entry #{place}", words] }
          added = add_patients(clinic, account, found.patients, faults)
          rows, wrong = Earlier.read(clinic, found.readings, again: :pass)
          wrong.each { |place, words| faults["entry #{place}"] ||= words }
          refuse!(faults)
          unacceptable("bundle", "There is nothing new in it.") if added.empty? && rows.empty?

          owner = { clinic_id: clinic.id, by: account.id, at: Store.now }
          ids =
            Store.db[:earlier_readings].multi_insert(
              rows.map { |row| { **owner, **row } },
              return: :primary_key
            )
          [
            "#{added.size} patients and #{rows.size} readings from a bundle brought in",
            { "patients" => added, "earlier" => Array(ids) }
          ]
        rescue Exchange::FhirIn::Unreadable => e
          unacceptable("bundle", e.message)
        end

        private

        # ids of those that were added; who is somebody else under the same number is a fault
        def add_patients(clinic, account, forms, faults)
          fresh =
            forms.reject do |place, form|
              here =
                Patient.first(
                  clinic_id: clinic.id,
                  record_key: form["record_number"].squeeze(" ").upcase
                ) or next false
              if here.born_on.iso8601 != form["born_on"]
                faults[
                  "entry #{place}"
                ] = "#{form["record_number"]} is somebody else here, born on another day."
              end
              true
            end
          Arrivals.add(clinic, account, fresh) { |place, words| faults["entry #{place}"] = words }
        end
      end
    end
  end
end

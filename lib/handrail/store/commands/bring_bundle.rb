# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Brings in the patients and the readings of a bundle as one: all of them or none. Who is here
      # already under the same number and date of birth is not added again; a reading that is here is
      # passed over.
      #
      #   BringBundle.new("rows" => JSON.generate("patients" => [[1, { "record_number" => "C 77", ... }]],
      #                                           "readings" => [[2, { "record_number" => "C 77", ... }]]))
      class BringBundle < ClinicCommand
        input :rows, :text, most: 3_000_000, missing: "Choose a file first."

        NO_LIST = "That is no bundle that was looked at. Choose the file again."

        def perform(clinic, account)
          patients, readings = listed
          faults = {}
          added = add_patients(clinic, account, patients, faults)
          found, wrong = Earlier.read(clinic, readings, again: :pass)
          wrong.each { |place, words| faults["entry #{place}"] ||= words }
          refuse!(faults)
          unacceptable("rows", "There is nothing new in it.") if added.empty? && found.empty?

          ids = Earlier.add(clinic, account, found)
          [
            "#{added.size} patients and #{ids.size} readings from a bundle brought in",
            { "patients" => added, "earlier" => ids }
          ]
        end

        private

        def listed
          whole = JSON.parse(rows)
          unacceptable("rows", NO_LIST) unless whole.is_a?(Hash)
          %w[patients readings].map do |name|
            list = whole[name]
            Earlier.list?(list) ? list : unacceptable("rows", NO_LIST)
          end
        rescue JSON::ParserError
          unacceptable("rows", NO_LIST)
        end

        # ids of those that were added; who is somebody else under the same number is a fault
        def add_patients(clinic, account, forms, faults)
          fresh = forms.reject { |place, form| here?(clinic, place, form, faults) }
          Arrivals.add(clinic, account, fresh) { |place, words| faults["entry #{place}"] = words }
        end

        # the family name decides: given names are written in full or not
        def same_name?(here, form) =
          Earlier.key(here.family_name) == Earlier.key(form["family_name"])

        def here?(clinic, place, form, faults)
          number = form["record_number"].to_s
          here = Patient.first(clinic_id: clinic.id, record_key: Earlier.key(number)) or
            return false
          if here.born_on.iso8601 != form["born_on"]
            faults["entry #{place}"] = "#{number} is somebody else here, born on another day."
          elsif !same_name?(here, form)
            faults[
              "entry #{place}"
            ] = "#{number} is #{here.name} here, born on the same day under another name."
          end
          true
        end
      end
    end
  end
end

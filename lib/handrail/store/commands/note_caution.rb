# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Something is to be taken care of of a wearer, whatever is ordered. It stands beside every open visit until it
      # is ended; where cautions were asked already, they are asked again.
      #
      #   NoteCaution.new("patient" => 17, "text" => "Allergy to latex")
      class NoteCaution < ClinicCommand
        include StandingValues

        role :clinical
        input :patient, :id
        input :text, :line, most: 200

        def perform(clinic, account)
          unacceptable("text", t(:write_what_taken_care)) unless text
          who = wearer(clinic)
          standing =
            Store.db[:standing_cautions].where(
              clinic_id: clinic.id,
              patient_id: who.id,
              ended_at: nil
            )
          if standing.where(Sequel.function(:lower, :text) => text.downcase).any?
            unacceptable("text", t(:that_stands_already))
          end

          Store.db[:standing_cautions].insert(
            clinic_id: clinic.id,
            patient_id: who.id,
            by: account.id,
            at: Store.now,
            text: text
          )
          [t(:standing_caution, record_number: who.record_number, text: text), changed(clinic, who)]
        end
      end
    end
  end
end

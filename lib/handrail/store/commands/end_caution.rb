# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A standing caution holds no longer, or was a mistake: with its reason. It stays in the record, struck.
      #
      #   EndCaution.new("patient" => 17, "caution" => 4, "why" => "tested, no allergy")
      class EndCaution < ClinicCommand
        include StandingValues

        role :clinical
        input :patient, :id
        input :caution, :id
        input :why, :line, most: 200

        def perform(clinic, account)
          unacceptable("why", t(:write_why_no_longer)) unless why
          who = wearer(clinic)
          ended =
            Store.db[:standing_cautions]
              .where(clinic_id: clinic.id, patient_id: records_of(who), id: caution, ended_at: nil)
              .returning(:text)
              .update(ended_at: Store.now, ended_by: account.id, ended_why: why)
              .first or unacceptable("why", t(:ended_meanwhile))
          [
            t(
              :standing_caution_ended,
              record_number: who.record_number,
              text: ended[:text],
              why: why
            ),
            changed(clinic, who)
          ]
        end

        private

        # their own, and those that are joined into it
        def records_of(who)
          joined = Patient.where(clinic_id: who.clinic_id, joined_into_id: who.id).select_map(:id)
          [who.id, *joined]
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A wearer goes to another clinic of the group: their record is sent there, with their consent written down.
      # What is here stays here. The record itself is delivered afterwards, see SentRecords.
      #
      #   SendRecord.new("patient" => 12, "to" => 3, "consent_by" => "Ines herself", "consent_on" => "30 Nov 2026")
      class SendRecord < ClinicCommand
        input :patient, :id
        input :to, :id, missing: t(:choose_clinic)
        input :consent_by, :text, most: 200, missing: t(:write_who_said_yes)
        input :consent_on, :text, most: 40, missing: t(:write_day_said)

        def perform(clinic, account)
          sister = Group.sister(clinic, to)
          day = day_of(consent_on)
          refuse!(
            "to" => (Wording.t("sent.no_sister") unless sister),
            "consent_on" => day.is_a?(String) ? day : nil
          )
          whose = wearer(clinic)
          id =
            Store.db[:sent_records].insert(
              clinic_id: clinic.id,
              patient_id: whose.id,
              by: account.id,
              at: Store.now,
              key: SecureRandom.uuid,
              to_clinic_id: sister.id,
              to_name: sister.name,
              consent_by: consent_by,
              consent_on: day
            )
          said =
            t(
              :record_sent_consent,
              record_number: whose.record_number,
              sister: sister.name,
              consent_by: consent_by
            )
          ["#{said} #{Quantity::Day.write(day)}", { "patient" => whose.id, "sent" => id }]
        end

        private

        def wearer(clinic)
          found = Patient.where(clinic_id: clinic.id, id: patient).for_update.first
          unacceptable("patient", t(:no_such_patient)) unless found
          unacceptable("patient", Wording.t("sent.practice")) if found.practice
          unacceptable("patient", Wording.t("sent.joined")) if found.joined_into_id
          open = { clinic_id: clinic.id, patient_id: found.id, to_clinic_id: to, taken_at: nil }
          if Store.db[:sent_records].where(open).any?
            unacceptable("to", Wording.t("sent.on_its_way"))
          end
          found
        end

        # a Date, or what is wrong with it
        def day_of(text)
          day = Quantity::Day.read(text)
          day > Quantity::Day.newest(Store.now) ? Wording.t("sent.not_yet") : day
        rescue Quantity::Day::Unreadable => e
          e.message
        end
      end
    end
  end
end

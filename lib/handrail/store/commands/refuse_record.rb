# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A record that came from another clinic of the group is not taken: it goes from here, and the clinic that sent it
      # keeps what it has. It is told afterwards, see SentRecords.tell.
      class RefuseRecord < ClinicCommand
        input :coming, :id

        def perform(clinic, account)
          row = SentRecords.end_here(clinic, coming, by: account.id) or
            unacceptable("coming", Wording.t("sent.gone"))
          told = { "from_clinic_id" => row[:from_clinic_id], "key" => row[:key] }
          [
            t(:record_not_taken, from_record: row[:from_record], from_name: row[:from_name]),
            { "coming" => told }
          ]
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Takes a record from elsewhere away from a wearer it is not of. It stays, struck, with the reason; readings that
      # came with it are taken back for themselves (TakeBackReadings).
      #
      #   EndBrought.new("record" => 4, "why" => "of another Ines Trevanion")
      class EndBrought < ClinicCommand
        role :senior
        input :record, :id
        input :why,
              :text,
              least: 5,
              most: 300,
              missing: t(:say_why_not_wearers),
              short: t(:say_why_not_this_wearers)

        def perform(clinic, account)
          row = Store.db[:brought_records].where(clinic_id: clinic.id, id: record)
          found = row.for_update.first or unacceptable("record", t(:no_such_record))
          unacceptable("record", t(:taken_away_already)) if found[:ended_at]
          row.update(ended_at: Store.now, ended_by: account.id, ended_why: why)
          number = Patient[found[:patient_id]].record_number
          [
            t(:record_taken_away, clinic: found[:clinic], number: number, why: why),
            { "patient" => found[:patient_id] }
          ]
        end
      end
    end
  end
end

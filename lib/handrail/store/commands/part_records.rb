# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Two records that were joined are of two persons after all: what went over with the join goes back, row by row.
      # What was ordered since stays where it was ordered.
      #
      #   PartRecords.new("from" => 18)
      class PartRecords < ClinicCommand
        include JoinsRecords

        role :senior
        input :from, :id

        def perform(clinic, _account)
          join =
            Store.db[:record_joins].where(
              clinic_id: clinic.id,
              from_id: from,
              parted_at: nil
            ).first or unacceptable("from", t(:no_such_join_record))
          both = locked(clinic, join.values_at(:from_id, :into_id))
          unless both[from].joined_into_id == join[:into_id]
            unacceptable("from", t(:record_not_joined_into))
          end

          give(clinic, join[:moved].to_h, from)
          both[from].update(joined_into_id: nil)
          Store.db[:record_joins].where(id: join[:id]).update(parted_at: Store.now)
          renew(clinic, both.values)
          numbers = both.values_at(*join.values_at(:from_id, :into_id)).map(&:record_number)
          [t(:record_parted, record: numbers.first, from: numbers.last), { "patient" => from }]
        end
      end
    end
  end
end

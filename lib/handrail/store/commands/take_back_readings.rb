# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Takes back readings from before that were brought in together, from a file or with a bundle.
      #
      #   TakeBackReadings.new("entry" => id of the entry that brought them in)
      class TakeBackReadings < ClinicCommand
        include BroughtIn

        role :senior
        input :entry, :id

        def perform(clinic, _account)
          gone =
            Store.db[:earlier_readings].where(
              clinic_id: clinic.id,
              id: brought(clinic, [BringReadings, BringBundle], "earlier")
            ).delete
          refuse!("entry" => (t(:these_were_taken_back) if gone.zero?))
          [t(:readings_before_taken_back, gone: gone), {}]
        end
      end
    end
  end
end

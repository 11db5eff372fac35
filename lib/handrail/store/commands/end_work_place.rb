# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Somebody works at another clinic no longer by this sign-in.
      class EndWorkPlace < ClinicCommand
        role :anyone
        input :place, :id

        def perform(_clinic, account)
          own = Store.db[:work_places].where(account_id: account.id, id: place)
          row = own.first or unacceptable("place", Wording.t("places.gone"))
          own.delete
          ["works at #{row[:other_name]} by this sign-in no longer", {}]
        end
      end
    end
  end
end

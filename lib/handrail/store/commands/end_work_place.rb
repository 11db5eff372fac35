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
          [t(:works_sign_no_longer, other_name: row[:other_name]), {}]
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Makes a link with which someone sets a new password, once. Until they do, the old one goes
      # on working.
      class SendResetLink < ClinicCommand
        include PersonOf
        include LinkMade

        role :senior
        input :person, :id

        def perform(clinic, account)
          whom = person_of(clinic)
          @token, digest, ends = People.link("reset")
          Store.db[:account_links].where(account_id: whom.id, used_at: nil).update(
            expires_at: Store.now
          )
          Store.db[:account_links].insert(
            clinic_id: clinic.id,
            by: account.id,
            purpose: "reset",
            email: whom.email,
            account_id: whom.id,
            token_digest: digest,
            expires_at: ends
          )
          People.note(whom, "reset_link", by: account.id)
          [t(:link_new_password_made, whom: whom.name), {}]
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Closes an account: its sessions end at once, it signs in no more, its name stays in the
      # records.
      class CloseAccount < ClinicCommand
        include PersonOf

        role :senior
        input :person, :id

        def perform(clinic, account)
          whom = person_of(clinic)
          refuse!("person" => LAST) if People.last_senior?(whom)
          whom.update(status_id: 3)
          People.end_sessions(whom)
          Store.db[:account_links].where(account_id: whom.id, used_at: nil).update(
            expires_at: Store.now
          )
          People.note(whom, "closed", by: account.id)
          [t(:account_closed, whom: whom.name), {}]
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # Every try to sign in: when, from which address, whose account, and what came of it. Rows are
    # added and never changed. What someone unknown typed is not kept, since it may be a password in
    # the wrong field.
    module SignInLog
      # the most that a page shows
      SHOWN = 60

      class << self
        # what - see the table's check; account - a row of accounts, or nil for somebody unknown.
        def note(what, address:, account: nil)
          Store.db[:sign_ins].insert(
            at: Store.now,
            what: what,
            address: address.to_s[0, 60],
            clinic_id: account && account[:clinic_id],
            account_id: account && account[:id]
          )
        end

        # The newest of a clinic, and of people who are unknown, newest first.
        def newest(clinic, limit: SHOWN)
          Store.db[:sign_ins]
            .where(Sequel.expr(clinic_id: clinic.id) | { clinic_id: nil })
            .reverse(:at, :id)
            .limit(limit)
            .all
        end
      end
    end
  end
end

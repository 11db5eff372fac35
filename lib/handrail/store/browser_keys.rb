# frozen_string_literal: true

require "securerandom"

module Handrail
  module Store
    # The key by which an account's browsers seal what waits there for the line. It is made once and stays,
    # so that what was left on a machine can be opened when its owner signs in there again; it is given to
    # nobody but them.
    #
    #   BrowserKeys.of(account) # => 32 bytes, the same each time
    module BrowserKeys
      BYTES = 32

      def self.of(account)
        Store.db[:browser_keys].insert_conflict.insert(
          account_id: account.id,
          clinic_id: account.clinic_id,
          key: Sequel.blob(SecureRandom.random_bytes(BYTES)),
          at: Store.now
        )
        Store.db[:browser_keys].where(account_id: account.id).get(:key).to_s
      end
    end
  end
end

# frozen_string_literal: true

require "base64"
require "openssl"
require "securerandom"

module Handrail
  module Web
    # The key by which a page seals what is typed in the same instant, see assets/scripts/slots.js. It follows
    # from the server's secret and the account, so that no page waits for a store; a browser keeps it nowhere.
    #
    #   SlotKey.of(account)     # => 32 bytes, the same each time
    #   SlotKey.masked(account) # => Base64 of 64 bytes: a mask, and the key under it; never the same twice,
    #                           #    so that the size of a packed page tells nothing of it
    module SlotKey
      def self.of(account)
        OpenSSL::HMAC.digest("SHA256", Sessions.secret, "slot #{account.clinic_id}/#{account.id}")
      end

      def self.masked(account)
        key = of(account)
        mask = SecureRandom.random_bytes(key.bytesize)
        under = key.bytes.zip(mask.bytes).map { |one, other| one ^ other }
        Base64.strict_encode64(mask + under.pack("C*"))
      end
    end
  end
end

# frozen_string_literal: true

require "base64"
require "json"

module Handrail
  module Web
    # What a browser asks before it sends what waited there: whether this is Handrail, who is signed in, what
    # time it is here. Asking is no use of the sign-in.
    #
    #   GET  /line       {"handrail": build, "account": 7, "token": "...", "now": 1795968000.2}
    #   GET  /line/key   {"key": "base64 of 32 bytes"}: the account's own, see Store::BrowserKeys
    #   POST /line/kept  keys[]=...: which of these entries of one's own have arrived, {"kept": [...]}
    class Line < Base
      # the most entries that are asked about at once
      MOST = 500

      get "/?" do
        json(
          handrail: Assets.build,
          account: account.id,
          token: token,
          now: Store.now.to_f.round(3)
        )
      end

      get("/key") { json(key: Base64.strict_encode64(Store::BrowserKeys.of(account))) }

      post "/kept" do
        keys = Array(params["keys"]).grep(Store::Inputs::UUID).first(MOST)
        own = Store.db[:entries].where(clinic_id: clinic.id, by: account.id, entry_key: keys)
        json(kept: own.select_map(:entry_key))
      end

      helpers do
        def json(**fields)
          content_type "application/json"
          JSON.generate(fields)
        end
      end
    end
  end
end

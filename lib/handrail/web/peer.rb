# frozen_string_literal: true

module Handrail
  module Web
    # Whose word counts about where a request came from: the peer's address, and what a proxy
    # forwards only where the proxy is named (HANDRAIL_PROXY, addresses with commas between).
    # Anybody else's forwarding lines are dropped.
    class Peer
      FORWARDED = %w[
        HTTP_X_FORWARDED_FOR
        HTTP_X_FORWARDED_PROTO
        HTTP_X_FORWARDED_SCHEME
        HTTP_X_FORWARDED_HOST
        HTTP_X_FORWARDED_PORT
        HTTP_X_FORWARDED_SSL
        HTTP_FORWARDED
        HTTP_X_REAL_IP
        HTTP_CLIENT_IP
      ].freeze

      def initialize(app, proxies: ENV.fetch("HANDRAIL_PROXY", "").split(",").map(&:strip))
        @app = app
        @proxies = proxies
        Rack::Request.ip_filter = ->(ip) { proxies.include?(ip) }
      end

      def call(env)
        FORWARDED.each { |name| env.delete(name) } unless @proxies.include?(env["REMOTE_ADDR"])
        @app.call(env)
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # What every answer says to the browser: nothing is loaded from elsewhere, nothing inline runs,
    # nobody frames it.
    class Headers
      POLICY =
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; " \
          "connect-src 'self'; worker-src 'self'; " \
          "form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
      ALWAYS = {
        "content-security-policy" => POLICY,
        "x-content-type-options" => "nosniff",
        "referrer-policy" => "same-origin",
        "x-frame-options" => "DENY",
        "permissions-policy" => "camera=(self), microphone=(), geolocation=()",
        "cross-origin-opener-policy" => "same-origin"
      }.freeze

      def initialize(app) = @app = app

      def call(env)
        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        status, headers, body = @app.call(env)
        ALWAYS.each { |name, value| headers[name] ||= value }
        headers["cache-control"] ||= "no-store"
        # by this a browser knows an answer of Handrail from a foreign one, and this build from another
        headers["handrail-build"] = Assets.build
        headers["server-timing"] = format(
          "app;dur=%.1f",
          (Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000
        )
        headers["strict-transport-security"] = "max-age=31536000" if Rack::Request.new(env).ssl?
        [status, headers, body]
      end
    end
  end
end

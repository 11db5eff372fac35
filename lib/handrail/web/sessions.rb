# frozen_string_literal: true

require "fileutils"

module Handrail
  module Web
    # The encrypted session cookie: out of reach of scripts, not sent along from other sites, and
    # marked secure wherever the page came over TLS (plain HTTP is for loopback only).
    class Sessions
      def initialize(app)
        options = {
          key: "handrail.session",
          secret: Sessions.secret,
          httponly: true,
          same_site: :lax,
          path: "/"
        }
        @plain = Rack::Session::Cookie.new(app, **options)
        @secured = Rack::Session::Cookie.new(app, **options, secure: true)
      end

      def call(env) = (Rack::Request.new(env).ssl? ? @secured : @plain).call(env)

      # 64 random bytes, kept in var/server so that a restart signs nobody out; SESSION_SECRET overrides.
      def self.secret
        @secret ||= (ENV["SESSION_SECRET"] || kept_secret).freeze
      end

      def self.kept_secret
        path = File.join(ROOT, "var", "server", "session.secret")
        FileUtils.mkdir_p(File.dirname(path))
        File.write(path, SecureRandom.hex(64), perm: 0o600) unless File.size?(path)
        File.read(path)
      end
      private_class_method :kept_secret
    end
  end
end

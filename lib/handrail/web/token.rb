# frozen_string_literal: true

module Handrail
  module Web
    # Every form carries the session's token; one that does not is refused with a page that says so. Whoever meant to
    # sign in is led to that page anew: another answer of the same browser may have changed the session meanwhile.
    class Token < Rack::Protection::AuthenticityToken
      SIGN_IN = "/login"
      private_constant :SIGN_IN

      def self.of(session) = token(session)

      def initialize(app) = super(app, reaction: :deny)

      # never from the address: that is kept in histories and logs
      def accepts?(env)
        set_token(session(env))
        safe?(env) || valid_token?(env, env["HTTP_X_CSRF_TOKEN"]) ||
          valid_token?(env, Rack::Request.new(env).POST[options[:authenticity_param]])
      rescue *Scrub::UNREADABLE
        false
      end

      def deny(env)
        return ErrorPages.page(403) unless env["PATH_INFO"] == SIGN_IN

        [303, { "location" => "#{SIGN_IN}?old=yes" }, []]
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # Every form carries the session's token; one that does not is refused with a page that says so.
    class Token < Rack::Protection::AuthenticityToken
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

      def deny(_env) = ErrorPages.page(403)
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # Every form carries the session's token; one that does not is refused with a page that says so.
    class Token < Rack::Protection::AuthenticityToken
      def self.of(session) = token(session)

      def initialize(app) = super(app, reaction: :deny)

      def deny(_env) = ErrorPages.page(403)
    end
  end
end

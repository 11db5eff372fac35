# frozen_string_literal: true

module Handrail
  module Web
    # Lets nobody further who is not signed in, and tells the pages who it is.
    class SignedIn
      def initialize(app) = @app = app

      def call(env)
        rodauth = env["rodauth"]
        account = rodauth&.logged_in? ? Store::Account[rodauth.session_value] : nil
        return refuse(env) unless account

        env["handrail.account"] = account
        @app.call(env)
      end

      private

      # a fragment is not replaced by a sign-in page: the browser keeps what was typed and says so
      def refuse(env)
        request = Rack::Request.new(env)
        return [401, { "content-type" => "text/plain" }, ["Sign in again. What you typed is kept."]] if env["HTTP_HX_REQUEST"]

        env["rack.session"]["login_redirect"] = request.fullpath if request.get? && request.fullpath.length < 500
        [302, { "location" => "/login" }, []]
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # Lets nobody further who is not signed in, and tells the pages who it is.
    class SignedIn
      AGAIN = Wording.t("web.sign_in_again").freeze

      def initialize(app) = @app = app

      def call(env)
        return @app.call(env) if open?(env["PATH_INFO"])

        rodauth = env["rodauth"]
        account = rodauth&.account_here
        return refuse(env) unless account&.open? && who_sends?(env, account)

        env["rack.session"]["clinic_id"] ||= account.clinic_id

        elsewhere = second_step(rodauth, account)
        return refuse(env, elsewhere) if elsewhere

        env["handrail.account"] = account
        @app.call(env)
      end

      # Whether a path leads to a page of this program, and nowhere else.
      def self.inside?(path) = path.length < 500 && path.match?(%r{\A/(?![/\\])[^\\\s]*\z})

      # what a browser shows in its window: no stream, no data, no file
      NO_PAGE = %r{\A/(?:live|line|find|health)\b|\.(?:csv|json|ics|pdf|zip|jpg)\z}
      private_constant :NO_PAGE

      private

      # Somebody asked for it: no script, nor the browser by itself for a picture of its tab.
      def asked_for?(request)
        what = request.get_header("HTTP_SEC_FETCH_DEST")
        !request.has_header?("HTTP_HANDRAIL_FOLLOWS") && (what.nil? || what == "document")
      end

      # A script says for whom it sends: after somebody else has signed in, in another window, nothing is
      # entered in their name.
      def who_sends?(env, account)
        said = env["HTTP_HANDRAIL_ACCOUNT"]
        said.nil? || said == account.id.to_s
      end

      def page?(request) =
        request.get? && asked_for?(request) && SignedIn.inside?(request.fullpath) &&
          !request.path.match?(NO_PAGE)

      # what has an address of its own in place of a sign-in
      def open?(path) = Joining.open?(path) || CalendarFeed.open?(path)

      # Where someone goes first who has given a password and nothing more; nil where that is
      # enough.
      def second_step(rodauth, account)
        return rodauth.two_factor_need_code unless rodauth.authenticated?

        "/otp-setup" if account.clinic.codes_required && !rodauth.uses_two_factor_authentication?
      end

      # a fragment is not replaced by a sign-in page: the browser keeps what was typed and says so
      def refuse(env, elsewhere = "/login")
        request = Rack::Request.new(env)
        return 401, { "content-type" => "text/plain" }, [AGAIN] if env["HTTP_HX_REQUEST"]

        env["rack.session"]["login_redirect"] = request.fullpath if page?(request)
        [302, { "location" => elsewhere }, []]
      end
    end
  end
end

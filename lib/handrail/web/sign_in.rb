# frozen_string_literal: true

require "roda"
require "rodauth"

module Handrail
  module Web
    # Signing in and out, one-time codes, sessions that end, and a log of every try. How fast one
    # may try is for Slowing.
    class SignIn < Roda
      IDLE_SECONDS = 60 * 60
      LONGEST_SECONDS = 12 * 60 * 60
      # a password that is nobody's, as costly to try as any
      NOBODY = Store::People.hash(SecureRandom.hex)
      WRONG = Wording.t("web.wrong_sign_in").freeze

      # one-time codes and the ways back in, in Rodauth's own words for settings
      CODES =
        proc do
          otp_issuer "Handrail"
          otp_drift 30
          otp_setup_redirect { recovery_codes_path }
          otp_setup_notice_flash Wording.t("web.codes_on").freeze
          otp_setup_error_flash Wording.t("web.codes_not_on").freeze
          otp_invalid_auth_code_message Wording.t("web.code_not_shown_now").freeze
          otp_invalid_secret_message Wording.t("web.picture_of_code_too_old").freeze
          otp_auth_error_flash Wording.t("web.wrong_code").freeze
          otp_disable_notice_flash Wording.t("web.codes_off").freeze
          otp_disable_error_flash Wording.t("web.codes_still_on").freeze
          otp_disable_redirect "/me"
          otp_lockout_error_flash Wording.t("web.five_wrong_codes").freeze
          otp_lockout_redirect { recovery_auth_path }
          otp_already_setup_error_flash Wording.t("web.codes_on_already").freeze
          otp_already_setup_redirect "/me"
          two_factor_already_authenticated_redirect "/"
          two_factor_need_setup_redirect "/me"
          two_factor_auth_required_redirect { two_factor_need_code }
          two_factor_auth_notice_flash nil
          two_factor_auth_redirect { login_redirect }
          two_factor_manage_route nil
          two_factor_auth_route nil
          two_factor_disable_route nil
          recovery_auth_redirect "/"
          auto_add_recovery_codes? true
          auto_remove_recovery_codes? true
          recovery_codes_limit 10
          invalid_recovery_code_error_flash Wording.t("web.no_such_way_back").freeze
          invalid_recovery_code_message Wording.t("web.way_back_unknown").freeze
          recovery_codes_added_notice_flash nil
          view_recovery_codes_error_flash Wording.t("web.look_password").freeze
        end

      plugin :middleware
      plugin :render,
             engine: "erb",
             views: File.join(VIEWS, "account"),
             layout: "layout",
             escape: true
      plugin :rodauth, csrf: false, flash: true do
        enable :login, :logout, :active_sessions, :session_expiration, :otp, :recovery_codes
        db { Store.db }
        login_column :email
        login_label "E-mail"
        account_password_hash_column :password_hash
        skip_status_checks? false
        account_status_column :status_id
        hmac_secret { Sessions.secret }
        login_redirect do
          path = session.delete("login_redirect")
          path && SignedIn.inside?(path) ? path : at_work
        end
        logout_redirect "/login"
        already_logged_in { redirect "/" }
        domain { request.host }
        login_notice_flash nil
        logout_notice_flash Wording.t("web.signed_out").freeze
        login_error_flash Wording.t("web.not_signed_in").freeze
        no_matching_login_message WRONG
        invalid_password_message WRONG
        require_login_error_flash Wording.t("web.sign_in_first").freeze
        login_view { view("login", Wording.t("web.sign_in").freeze) }
        logout_view { view("logout", Wording.t("web.sign_out").freeze) }
        session_inactivity_timeout IDLE_SECONDS
        max_session_lifetime LONGEST_SECONDS
        session_expiration_error_flash Wording.t("web.signed_out_idle").freeze
        session_expiration_redirect "/login"

        instance_exec(&CODES)

        after_login { right_password }
        after_login_failure { note("wrong_password") }
        before_logout { note("signed_out") }
        after_otp_authentication_failure { note("wrong_code") }
        after_otp_setup { own_event("codes_on") }
        after_otp_disable { own_event("codes_off") }

        # an e-mail signs in however it is written; accounts keep it in small letters
        auth_class_eval do
          include SignInUsed

          def _account_from_login(login) = super(Store::People.email(login))

          # the sign-in as the database knows it
          def session_digest = session["active_session_id"]&.then { |id| compute_hmac(id) }

          # whether there is such an account is not told by how long the answer takes
          def account_from_login(login) = super || nobody

          def nobody
            Store::SignInLog.note("unknown", address: request.ip)
            password_hash_match?(NOBODY, param(password_param)) && nil
          end

          def password_hash_match?(hash, password) = Store::People.match?(hash, password)

          def note(what)
            row = account || (logged_in? ? Store.db[:accounts].where(id: session_value).first : nil)
            Store::SignInLog.note(what, address: request.ip, account: row)
          end

          # it is noted, the tries before are forgotten, and for a while nothing asks for the
          # password again
          def right_password
            note("signed_in")
            session["clinic_id"] = account[:clinic_id]
            Store::People.renew_hash(Store::Account[session_value], param(password_param))
            session["confirmed_at"] = Time.now.to_i
            Slowing.forget(request)
          end

          # who works in two clinics chooses
          def at_work = Store::Places.any?(Store::Account[session_value]) ? "/me/places" : "/"

          # The sign-in goes on as that of another account. row - of accounts, at the cluster that is asked now
          def go_on_as(row)
            @account = row
            login_session("password")
          end

          # what a script sent is answered as such: a page to sign in would look like an answer to it
          def expire_session
            return super unless request.env["HTTP_HX_REQUEST"]

            clear_session
            response.status = 401
            response["content-type"] = "text/plain"
            response.write(SignedIn::AGAIN)
            return_response
          end

          def own_event(what)
            own = Store::Account[session_value]
            Store::People.note(own, what, by: own.id)
          end

          def two_factor_need_code = otp_locked_out? ? recovery_auth_path : otp_auth_path
        end
      end

      # the stream, its polling, and a board that follows it
      def by_itself?(request) =
        request.path.match?(%r{\A/li[nv]e\b}) || request.env["HTTP_HANDRAIL_FOLLOWS"] == "yes"

      route do |r|
        env["rodauth"] = rodauth
        if rodauth.logged_in?
          used = session["last_session_activity_at"]
          rodauth.check_session_expiration
          # what a page asks by itself is no use of it
          session["last_session_activity_at"] = used if used && by_itself?(r)
          rodauth.check_active_session
        end
        r.rodauth
      end
    end
  end
end

# frozen_string_literal: true

require "roda"
require "rodauth"

module Handrail
  module Web
    # Signing in and out: lockout after repeated failures, sessions that end, a log of every attempt.
    class SignIn < Roda
      ATTEMPTS = 5
      LOCKED_MINUTES = 15
      IDLE_SECONDS = 60 * 60
      LONGEST_SECONDS = 12 * 60 * 60
      # a password that is nobody's, as costly to try as any
      NOBODY = Store::People.hash(SecureRandom.hex)

      plugin :middleware
      plugin :render, engine: "erb", views: File.join(VIEWS, "account"), layout: "layout", escape: true
      plugin :rodauth, csrf: false, flash: true do
        enable :login, :logout, :lockout, :active_sessions, :session_expiration, :audit_logging
        db { Store.db }
        login_column :email
        login_label "E-mail"
        account_password_hash_column :password_hash
        skip_status_checks? false
        account_status_column :status_id
        require_mail? false
        hmac_secret { Sessions.secret }
        login_redirect { (path = session.delete("login_redirect")) && SignedIn.inside?(path) ? path : "/" }
        logout_redirect "/login"
        already_logged_in { redirect "/" }
        domain { request.host }
        login_notice_flash nil
        logout_notice_flash "You are signed out."
        login_error_flash "That did not sign you in. Look at the e-mail and the password, and try again."
        no_matching_login_message "no account with this e-mail and password"
        invalid_password_message "no account with this e-mail and password"
        require_login_error_flash "Sign in first. What you typed is kept in this browser."
        max_invalid_logins ATTEMPTS
        set_deadline_values? true
        account_lockouts_deadline_interval(minutes: LOCKED_MINUTES)
        unlock_account_route nil
        unlock_account_request_route nil
        login_lockout_error_flash "Too many wrong passwords: this account is shut for #{LOCKED_MINUTES} minutes."
        unlock_account_request_view { view("locked", "Account shut") }
        login_view { view("login", "Sign in") }
        logout_view { view("logout", "Sign out") }
        session_inactivity_timeout IDLE_SECONDS
        max_session_lifetime LONGEST_SECONDS
        session_expiration_error_flash "You were signed out after an hour without use. What you typed is kept " \
                                       "in this browser."
        session_expiration_redirect "/login"
        audit_log_metadata_default { { "ip" => request.ip } }
        # an e-mail signs in however it is written; accounts keep it in small letters
        auth_class_eval do
          def _account_from_login(login) = super(Store::People.email(login))

          # whether there is such an account is not told by how long the answer takes
          def account_from_login(login) = super || (BCrypt::Password.new(NOBODY) == param(password_param) && nil)
        end
      end

      route do |r|
        env["rodauth"] = rodauth
        if rodauth.logged_in?
          rodauth.check_session_expiration
          rodauth.check_active_session
        end
        r.rodauth
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # Whether a sign-in goes on, asked with every request. Rodauth notes each time that it was used and clears away the
    # old: two commits a page. What was noted within NOTED seconds is only read here; Rodauth notes the rest.
    # Part of the class that SignIn makes by Rodauth.
    module SignInUsed
      # how long (seconds) a note lasts
      NOTED = 60

      def currently_active_session?
        return true if used_lately?

        begin
          Store::Standby.writing { super }
        rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
          # nobody is signed out for want of a writer
          raise unless Store::Standby.here? && Store::Standby.no_writer?(e)

          there?
        end
      end

      # The Account that is signed in, with its clinic; nil where nobody is.
      def account_here
        @account_here ||= logged_in? ? Store::Account.with_clinic(session_value) : nil
      end

      private

      def there? = active_sessions_ds.where(session_id: session_digest.to_s).any?

      def used_lately?
        digest = session_digest or return false
        @account_here, used = Store::Account.signed_in(session_value, digest, seconds: NOTED)
        used
      end
    end
  end
end

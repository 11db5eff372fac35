# frozen_string_literal: true

module Handrail
  module Web
    # Where a page is read from, in a group with a standby of its database (see Store::Standby). What whoever asks wrote
    # last is always in it: a session carries the mark of its last write. While nothing can be written, every page that
    # can be looked at still is, and says so (env["handrail.no_writer"]).
    class Reading
      # pages of which a standby that is some milliseconds behind the others tells enough: board, find, patients, week,
      # catalogue, handbook, report
      PAGES = %r{\A/(?:\z|find|patients|week|catalogue|handbook|report)}
      # further on than any log
      UNKNOWN = "FFFFFFFF/FFFFFFFF"
      private_constant :PAGES, :UNKNOWN

      def initialize(app) = @app = app

      def call(env)
        return @app.call(env) unless Store::Standby.there?
        return wrote(env) unless %w[GET HEAD].include?(env["REQUEST_METHOD"])

        (apart(env) if apart?(env)) || first(env)
      end

      private

      # A board that follows was told of an entry this moment: the writer has it for sure.
      def apart?(env) = env["PATH_INFO"].match?(PAGES) && env["HTTP_HANDRAIL_FOLLOWS"].nil?

      # from a standby, or nil
      def apart(env)
        env["handrail.no_writer"] = true if Store::Standby.lost?
        Store::Standby.read(after: env["rack.session"]["written"]) { @app.call(env) }
      rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
        # there is none, or the page writes after all
        raise unless Store::Standby.no_writer?(e)
      end

      # from the writer; where there is none, or was none just now, from a standby
      def first(env)
        answer = apart(env) if Store::Standby.lost?
        return answer if answer

        @app.call(env).tap { Store::Standby.found }
      rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
        raise unless Store::Standby.no_writer?(e)

        Store::Standby.lost
        env["handrail.no_writer"] = true
        Store::Standby.read { @app.call(env) }
      end

      def wrote(env)
        answer = @app.call(env)
        session = env["rack.session"]
        session["written"] = mark if session["account_id"]
        answer
      end

      # what was written is written: where its place in the log can not be asked, no standby counts as having it
      def mark
        Store::Standby.mark
      rescue Sequel::DatabaseError, Sequel::PoolTimeout
        UNKNOWN
      end
    end
  end
end

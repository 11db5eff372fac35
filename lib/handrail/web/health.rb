# frozen_string_literal: true

module Handrail
  module Web
    # /health, for this machine alone: whether the server answers and the database with it. /ready: whether it may be
    # sent people, which is only where the database answers and every migration has run; for whatever stands in front.
    class Health
      NEAR = %w[127.0.0.1 ::1].freeze

      def initialize(app) = @app = app

      def call(env)
        return ready if env["PATH_INFO"] == "/ready"
        unless env["PATH_INFO"] == "/health" && NEAR.include?(Rack::Request.new(env).ip)
          return @app.call(env)
        end

        state = {
          database: Store.db.get(1) == 1 ? "answers" : "silent",
          schema: Store.schema_version
        }
        [200, { "content-type" => "application/json" }, [JSON.generate(state)]]
      rescue Sequel::Error
        [503, { "content-type" => "application/json" }, [JSON.generate({ database: "silent" })]]
      end

      private

      # of a standby, where nobody can write: people may still look
      def schema
        return Store::Standby.read { version } if Store::Standby.lost?

        version
      rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
        raise unless Store::Standby.there? && Store::Standby.no_writer?(e)

        Store::Standby.lost
        Store::Standby.read { version }
      end

      def version = Store.db[:schema_info].get(:version)

      # says yes or no, and nothing of the inside
      def ready
        good = schema == Store.newest_schema
        [
          good ? 200 : 503,
          { "content-type" => "text/plain", "cache-control" => "no-store" },
          [good ? "ready\n" : "not ready\n"]
        ]
      rescue Sequel::Error
        [503, { "content-type" => "text/plain", "cache-control" => "no-store" }, ["not ready\n"]]
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # /health, for this machine alone: whether the server answers and the database with it.
    class Health
      NEAR = %w[127.0.0.1 ::1].freeze

      def initialize(app) = @app = app

      def call(env)
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
    end
  end
end

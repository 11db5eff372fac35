# frozen_string_literal: true

require "securerandom"

module Handrail
  module Web
    # A name for every request, the same in its answer's header, in its line of the log and on the page that says that
    # something broke: by it whoever looks after Handrail finds what happened.
    class RequestId
      KEY = "handrail.request"
      HEADER = "x-request-id"

      def self.of(env) = env[KEY]

      def initialize(app) = @app = app

      def call(env)
        env[KEY] = SecureRandom.alphanumeric(10).downcase
        status, headers, body = @app.call(env)
        [status, { **headers, HEADER => env[KEY] }, body]
      end
    end
  end
end

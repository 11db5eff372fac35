# frozen_string_literal: true

module Handrail
  module Web
    # One JSON line a request, where HANDRAIL_LOG names a file, or "-" for standard output: its name (RequestId), when,
    # how long, from where, which account by its number. No names, nothing typed: the path without
    # what was asked for.
    class RequestLog
      # a link's token opens an account: it is not written down
      SECRET = %r{\A(/(?:join|set-up|calendar)/).+}

      def initialize(app, to: ENV.fetch("HANDRAIL_LOG", nil))
        @app = app
        @out = to == "-" ? $stdout : to && File.open(to, "a", 0o600)
        @out&.sync = true
      end

      def call(env)
        return @app.call(env) unless @out

        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        answer = @app.call(env)
        line(env, answer.first, Process.clock_gettime(Process::CLOCK_MONOTONIC) - started)
        answer
      end

      private

      def line(env, status, seconds)
        request = Rack::Request.new(env)
        account = env["handrail.account"]
        @out.puts(
          JSON.generate(
            id: RequestId.of(env),
            at: Time.now.utc.iso8601(3),
            method: request.request_method,
            path: request.path.sub(SECRET, '\1…').scrub("?")[0, 300],
            status: status,
            ms: (seconds * 1000).round(1),
            address: request.ip,
            account: account&.id
          )
        )
      end
    end
  end
end

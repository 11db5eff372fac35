# frozen_string_literal: true

require "socket"

module Handrail
  module Web
    # The address under which a clinic is reached, for links that leave the page: an invitation, a
    # calendar. Whoever sends a request writes its Host header, so that alone is not believed: it is
    # taken where it names this machine. Elsewhere (behind a name of its own) HANDRAIL_PUBLIC says it,
    # as docs/running.md tells.
    #
    #   HANDRAIL_PUBLIC=https://fitting.example bin/start
    module Address
      LOOPBACK = %w[localhost 127.0.0.1 ::1 [::1]].freeze

      class << self
        # request - the Sinatra request. Returns it without a slash at its end.
        def of(request)
          set = ENV.fetch("HANDRAIL_PUBLIC", "").chomp("/")
          return set unless set.empty?

          own?(request.host) ? request.base_url : ENV.fetch("HANDRAIL_ADDRESS", "http://127.0.0.1")
        end

        private

        def own?(host)
          LOOPBACK.include?(host) || host == Socket.gethostname ||
            Socket.ip_address_list.any? { |address| address.ip_address == host }
        end
      end
    end
  end
end

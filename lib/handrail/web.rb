# frozen_string_literal: true

require "rack"
require "rack/brotli"
require "rack/deflater"
require "rack/session"
require "rack/protection"
require "sinatra/base"

module Handrail
  # Pages. Routes read parameters and check rights, the core and the store do the work, templates
  # print.
  module Web
    VIEWS = File.join(ROOT, "views")
    PUBLIC = File.join(ROOT, "public")

    # The whole application as a Rack app.
    def self.app
      Rack::Builder.app do
        use Peer
        use RequestId
        use Metrics
        use RequestLog
        use Health
        use Headers
        use Assets
        use Worker
        use Rack::Brotli, deflater: { quality: 1 }
        use Rack::Deflater
        use ErrorPages
        use Scrub
        use Sessions
        use Placed
        use Reading
        use Token
        use Slowing.guard
        use SignIn
        use SignedIn
        use Office
        run Web.rooms
      end
    end

    # Every app under its path. Those that answer several paths see them whole.
    def self.rooms
      Rack::URLMap.new(
        "/" => Board,
        "/patients" => Patients,
        "/visits" => Visits,
        "/catalogue" => Catalogue,
        "/week" => Week,
        "/live" => Live,
        "/line" => Line,
        "/tapes" => Tapes,
        "/report" => Report,
        "/group" => GroupRoom,
        "/handbook" => HandbookPages,
        "/devices" => Devices,
        "/join" => whole(Joining),
        "/set-up" => whole(Joining),
        "/people" => whole(People),
        "/me" => whole(People),
        "/calendar" => whole(CalendarFeed),
        "/settings" => whole(People)
      )
    end

    def self.whole(app)
      ->(env) do
        app.call(
          env.merge("PATH_INFO" => "#{env["SCRIPT_NAME"]}#{env["PATH_INFO"]}", "SCRIPT_NAME" => "")
        )
      end
    end
    private_class_method :whole
  end
end

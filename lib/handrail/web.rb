# frozen_string_literal: true

require "rack"
require "rack/brotli"
require "rack/deflater"
require "rack/session"
require "rack/protection"
require "sinatra/base"

module Handrail
  # Pages. Routes read parameters and check rights, the core and the store do the work, templates print.
  module Web
    VIEWS = File.join(ROOT, "views")
    PUBLIC = File.join(ROOT, "public")

    # The whole application as a Rack app.
    def self.app
      Rack::Builder.app do
        use Headers
        use Assets
        use Rack::Brotli, quality: 4
        use Rack::Deflater
        use ErrorPages
        use Scrub
        use Sessions
        use Token
        use SignIn
        use SignedIn
        run Rack::URLMap.new("/" => Board, "/patients" => Patients, "/visits" => Visits, "/catalogue" => Catalogue,
                             "/tapes" => Tapes, "/handbook" => HandbookPages)
      end
    end
  end
end

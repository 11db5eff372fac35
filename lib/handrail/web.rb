# frozen_string_literal: true

require "rack"
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
        use Rack::Static, root: PUBLIC, urls: %w[/vendor /fonts /app], header_rules: [[:all, { "cache-control" => "public, max-age=86400" }]]
        use ErrorPages
        use Sessions
        use Token
        use SignIn
        use SignedIn
        run Rack::URLMap.new("/" => Board, "/patients" => Patients, "/visits" => Visits, "/catalogue" => Catalogue, "/tapes" => Tapes)
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # Who belongs to the office of a group sees the group's pages, its catalogue, its people and their own; for them
    # there is nothing else: no patient, no visit. For everybody else it does nothing.
    class Office
      ROOMS = %r{\A/(?:group|catalogue|people|me|live|line)(?:/|\z)}
      # pages of the catalogue that look at wearers
      WEARERS = %r{/coverage\b}
      private_constant :ROOMS, :WEARERS

      def initialize(app) = @app = app

      def call(env)
        account = env["handrail.account"]
        return @app.call(env) unless account&.clinic&.office

        path = env["PATH_INFO"]
        return 303, { "location" => "/group" }, [] if path == "/"
        return ErrorPages.page(404) unless path.match?(ROOMS) && !path.match?(WEARERS)

        @app.call(env)
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # The visits as a calendar program reads them: no sign-in, a private address instead.
    class CalendarFeed < Base
      ADDRESS = %r{\A/calendar/([A-Za-z0-9_-]{20,100})\.ics\z}

      # Whether a path is one that is read without signing in.
      def self.open?(path) = path.match?(ADDRESS)

      get "/calendar/:token.ics" do
        reader = found(Store::CalendarKeys.account(params["token"]))
        rows = Store::CalendarKeys.visits(reader)
        content_type "text/calendar"
        headers "Cache-Control" => "private, no-store"
        Exchange::ClinicCalendar.new(
          reader.clinic,
          rows,
          now: Store.now,
          clinical: reader.clinical?
        ).to_ical
      end
    end
  end
end

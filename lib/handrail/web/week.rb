# frozen_string_literal: true

module Handrail
  module Web
    # The weeks: what is booked, by day or by fitter, to be moved by hand or by key.
    class Week < Base
      # in which somebody may be booked; the database knows no year 0, to which a week of the year 1 reaches
      YEARS = (1900..2999)

      get "/" do
        day = given_day
        monday = day - ((day.wday - 1) % 7)
        who = planning.people.find { |one| one.id.to_s == params["who"] }
        erb :"week/page",
            locals: {
              page: WeekPage.of_week(planning, monday, who: who, today: today)
            }
      end

      get "/day" do
        erb :"week/page", locals: { page: WeekPage.of_day(planning, given_day, today: today) }
      end

      # what wearers would be sent, the newest first
      get "/outbox" do
        from = Store::Inputs.whole(params["from"], 0..1_000_000) || 0
        erb :"week/outbox", locals: { outbox: Store::Outbox.new(clinic), from: from }
      end

      helpers do
        def planning = @planning ||= Store::Planning.new(clinic)

        # the day in the address, else today
        def given_day
          day = Quantity::Day.read(text("on"))
          YEARS.cover?(day.year) ? day : today
        rescue Quantity::Day::Unreadable
          today
        end
      end
    end
  end
end

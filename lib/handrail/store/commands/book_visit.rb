# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Books a planned visit, or moves it. Day and time are the clinic's; the front desk books too.
      #
      #   BookVisit.new("day" => "24 Nov 2026", "time" => "09:40")
      class BookVisit < VisitCommand
        role :anyone
        input :day, :day
        input :time, :time
        # the clinic is shut then, and it is booked all the same
        input :anyway, :flag

        def topic = "booking"
        def opens? = false

        def decide(visit)
          on = visit.clinic.moment(day, *time)
          shut = visit.clinic.choices_made.shut(day, *time)
          if shut && !anyway
            unacceptable("anyway", "#{shut} Tick “book it all the same”, or choose another time.")
          end
          said = visit.clinic.zone.to_local(on).strftime("%-d %b %Y, %H:%M")
          Decision.of("booked for #{said}", visit: { planned_for: on })
        rescue TZInfo::PeriodNotFound
          unacceptable("time", "The clocks go forward over that hour: choose another time.")
        end
      end
    end
  end
end

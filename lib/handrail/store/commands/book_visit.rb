# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Books a planned visit, or moves it. Day and time are the clinic's; the front desk books too.
      # How long it takes is the clinic's rule for its kind, unless it is said. With whom and where
      # may be left open.
      #
      #   BookVisit.new("day" => "24 Nov 2026", "time" => "09:40", "with" => "3", "room" => "Room 2")
      class BookVisit < VisitCommand
        include Told

        role :anyone
        input :day, :day
        input :time, :time
        input :minutes, :count, within: Choices::MINUTES, default: nil
        input :with, :id, default: nil
        input :room, :line, most: 40, default: nil
        # the clinic is shut then, or the day has passed, and it is booked all the same
        input :anyway, :flag

        MEETS = "That time was taken meanwhile. Choose another one."

        def topic = "booking"
        def opens? = false

        def decide(visit)
          raise Closed if visit.row.called_off_at

          from = visit.clinic.moment(day, *time)
          lasting = minutes || visit.source.planning.minutes(visit.purpose)
          to = from + (lasting * 60)
          ask_again(visit, lasting)
          refuse_clash(visit, from, to)
          Decision.of(
            said(visit, from),
            rows: told(visit, visit.planned_for ? "moved" : "booked", from),
            visit: {
              planned_for: from,
              planned_to: to,
              planned_with: fitter(visit)&.id,
              planned_room: place(visit),
              arrived_at: (visit.arrived_at if day == visit.clinic.today)
            }
          )
        rescue TZInfo::PeriodNotFound
          unacceptable("time", "The clocks go forward over that hour: choose another time.")
        end

        # two were booked into one time at once: the database took the first
        def doubled(_error) = Unacceptable.new("time", MEETS)

        private

        def ask_again(visit, lasting)
          return if anyway

          why = off(visit, lasting) or return
          unacceptable("anyway", "#{why} Tick “book it all the same”, or choose another time.")
        end

        # why somebody may not mean that time, or nil
        def off(visit, lasting)
          return "That day has passed." if day < visit.clinic.today

          visit.clinic.choices_made.shut(day, *time, lasting: lasting) || away(visit, lasting)
        end

        # the fitter works at other times
        def away(visit, lasting)
          who = fitter(visit) or return
          from, to = visit.source.planning.works(who, day)
          return "#{who.name} does not work on that day." unless from

          at = (time[0] * 60) + time[1]
          return if at >= from && at + lasting <= to

          "#{who.name} works from #{clock(from)} to #{clock(to)} on that day."
        end

        def refuse_clash(visit, from, to)
          found =
            visit.source.planning.clash(
              from,
              to,
              who: fitter(visit)&.id,
              room: place(visit),
              except: visit.id
            ) or return
          where = found.who && found.who == with ? fitter(visit).name : found.room
          at =
            [found.from, found.to].map { |time| local(visit, time).strftime("%H:%M") }.join(" to ")
          unacceptable(
            "time",
            "#{where} is taken from #{at}, by #{found.name}. Choose another time."
          )
        end

        def fitter(visit)
          return unless with

          visit.source.planning.people.find { |one| one.id == with } or
            unacceptable("with", "Choose somebody who fits here.")
        end

        def place(visit)
          return unless room
          return room if visit.source.planning.rooms.include?(room) || room == visit.planned_room

          unacceptable("room", "Choose one of the clinic's rooms.")
        end

        def said(visit, from)
          [
            "booked for #{local(visit, from).strftime("%-d %b %Y, %H:%M")}",
            fitter(visit)&.name&.prepend("with "),
            place(visit)
          ].compact.join(", ")
        end

        def local(visit, time) = visit.clinic.local(time)
        def clock(minutes) = format("%02d:%02d", *minutes.divmod(60))
      end
    end
  end
end

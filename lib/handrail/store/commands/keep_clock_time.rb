# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # The clinic's time zone was changed, and its booked visits keep the time of day that was said to
      # the wearers: the moment moves with the zone. Nobody is told anew, since what they know stays so.
      #
      #   KeepClockTime.new("was" => "Europe/London", "is" => "Europe/Lisbon")
      #
      # Where the clocks of the new zone go forward over that hour it becomes an hour later.
      class KeepClockTime < VisitCommand
        role :senior
        input :was, :line, most: 60, missing: t(:say_which_zone_it_was)
        input :is, :line, most: 60, missing: t(:say_which_zone)

        def topic = "booking"
        def opens? = false

        def decide(visit)
          return unless visit.planned_for && !visit.row.called_off_at

          from = moved(visit.planned_for)
          to = visit.planned_to && (from + (visit.planned_to - visit.planned_for))
          at = TZInfo::Timezone.get(is).to_local(from).strftime("%-d %b %Y, %H:%M")
          Decision.of(
            t(:kept_instead, at: at, now: is, was: was),
            visit: {
              planned_for: from,
              planned_to: to
            }
          )
        end

        # where the clocks of both zones change on other days two visits may come to meet
        def doubled(_error)
          Unacceptable.new("booked", t(:two_visits_would_meet))
        end

        private

        def moved(moment)
          local = TZInfo::Timezone.get(was).to_local(moment)
          wall = Time.utc(local.year, local.month, local.day, local.hour, local.min)
          zone = TZInfo::Timezone.get(is)
          begin
            zone.local_to_utc(wall, &:first)
          rescue TZInfo::PeriodNotFound
            zone.local_to_utc(wall + 3600, &:first)
          end
        rescue TZInfo::InvalidTimezoneIdentifier
          unacceptable("is", t(:no_such_zone))
        end
      end
    end
  end
end

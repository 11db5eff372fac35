# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A part was renewed: electrodes, a liner, hook-and-loop. Its next day counts from then. Also
      # between visits, on a visit that is closed. Of two devices it says on which.
      #
      #   RenewPart.new("part" => "electrodes", "renewed_on" => "25 Nov 2026", "side" => "left")
      class RenewPart < VisitCommand
        input :part, :key, missing: t(:say_which_part)
        input :side, :key
        input :renewed_on, :line, most: 40
        input :note, :line, most: 200

        def topic = "part:#{part}:#{side}"
        def correction? = true
        def opens? = false

        def decide(visit)
          unacceptable("part", t(:has_not_been_handed)) unless visit.handed_over?
          own = named_side(visit, side)
          due =
            visit.wear.part_dues.find do |one|
              one.part.key == part && one.side == visit.said_side(own)
            end or unacceptable("part", t(:device_has_no_such_part))
          day = renewed(visit)
          said =
            t(
              :renewed,
              part: due.part.label.downcase,
              day: Quantity::Day.write(day),
              note: (": #{note}" if note)
            )
          Decision.insert(
            with_side(visit, own, said),
            part_renewals: {
              part: part,
              side: own,
              renewed_on: day,
              note: note
            }
          )
        end

        private

        def renewed(visit)
          today = visit.clinic.today
          return today unless renewed_on

          day = Quantity::Day.read(renewed_on)
          first = visit.clinic.today(visit.hand_over[:at])
          return day if day.between?(first, today)

          unacceptable("renewed_on", t(:lies_between_hand_over, first: Quantity::Day.write(first)))
        rescue Quantity::Day::Unreadable => e
          unacceptable("renewed_on", e.message)
        end
      end
    end
  end
end

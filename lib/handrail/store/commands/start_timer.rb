# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Starts one of the family's timers: the trade waits, then looks. It runs in the record, not
      # in a page: a reload or another device does not stop it, and it holds nothing back.
      #
      #   StartTimer.new("timer" => "colour", "side" => "left")
      #
      # Refuses one that the protocol does not have, and one that runs already.
      class StartTimer < VisitCommand
        input :timer, :key, missing: t(:no_such_timer)
        input :side, :key

        def topic = "timer:#{timer}:#{side}"
        def rests_on(visit) = [:visit_timers, { side: side_of(visit, side) }]

        def decide(visit)
          pass!(visit)
          found = visit.family.timers_for(visit.config).find { |one| one.key == timer } or
            unacceptable("timer", t(:protocol_has_no_such))
          own = side_of(visit, side)
          if visit.running_timers.any? { |row| row[:timer] == timer && row[:side] == own }
            unacceptable("timer", t(:runs_already_answer_first))
          end

          minutes = found.minutes.to_i
          Decision.insert(
            with_side(visit, own, t(:timer_set_minutes, label: found.label, minutes: minutes)),
            visit_timers: {
              timer: timer,
              side: own,
              label: found.label,
              minutes: minutes,
              rings_at: Store.now + (minutes * 60)
            }
          )
        end
      end
    end
  end
end

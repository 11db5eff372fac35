# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Answers a timer: looked and well, looked and not well, or stopped without a look. What was
      # seen is a check of its own; where it is not well, the checks are where it is written down.
      #
      #   AnswerTimer.new("row" => "7", "answer" => "good")
      #
      # Refuses one that was answered, or that was never set here, and “well” before it rings.
      class AnswerTimer < VisitCommand
        input :row, :id
        input :answer, :one_of, of: %w[good bad stopped], missing: t(:say_what_you_saw)
        input :note, :line, most: 500

        def topic = "timer-row:#{row}"

        def decide(visit)
          found = visit.running_timers.find { |one| one[:id] == row } or
            unacceptable("row", t(:timer_answered_already_never))
          if answer == "good" && Store.now < found[:rings_at]
            unacceptable("answer", t(:has_not_rung_yet))
          end

          Decision.of(
            "#{found[:label]}: #{SAID.fetch(answer)}",
            updates: [
              [
                :visit_timers,
                found[:id],
                { answered_at: Store.now, answered_by: :account, answer: answer, note: note }
              ]
            ]
          )
        end

        SAID = Wording.names("timer_answers")
      end
    end
  end
end

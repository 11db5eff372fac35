# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # An answer to one of the recheck's questions. One that is a sign of danger raises a stop; it
      # can be written at any time once identity was confirmed, also under another stop. Of a pair each
      # device is asked about by itself.
      #
      #   AnswerRecheck.new("field" => "skin", "answer" => "broken", "side" => "left")
      class AnswerRecheck < VisitCommand
        input :field, :key, missing: t(:no_such_question)
        input :answer, :line, most: 500
        input :side, :key

        def topic = ["ask", field, side].compact.join(":")

        def decide(visit)
          pass!(visit)
          ask =
            visit.family.recheck_asks.find do |one|
              one.key == field && one.applies?(visit.config)
            end or unacceptable(field, t(:no_such_question))
          unacceptable(field, t(:write_choose_answer, label: ask.label)) unless answer
          fault = ask.fault(answer)
          unacceptable(field, fault) if fault
          own = ask.once ? nil : side_of(visit, side)
          Decision.insert(
            with_side(visit, own, "#{ask.label}: #{ask.print(answer)}"),
            recheck_answers: {
              field: field,
              side: own,
              answer: answer,
              stop: ask.choices ? ask.choice(answer).stop || false : false
            }
          )
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What was done about a stop sign: the only thing that ends it. Nobody overrides a stop;
      # somebody refers, asks or calls, and writes down whom they spoke with and what was said.
      #
      #   RecordStopAction.new("stop" => "chest", "action" => "emergency", "who" => "ambulance, 09:40", "advice" =>
      #   "taken in")
      #
      # Refuses a stop that is not open here, and a passed limit: that ends with another product or
      # order.
      class RecordStopAction < VisitCommand
        ACTIONS = {
          "referred" => "referred",
          "advised" => "advice asked",
          "emergency" => "emergency help called"
        }.freeze

        input :stop, :text, most: 120, missing: "Name the stop sign."
        input :action,
              :one_of,
              of: ACTIONS.keys,
              missing: "Say what was done: referred, advice asked, or emergency help called."
        input :who, :text, most: 200, missing: "Write whom you spoke with."
        input :advice,
              :text,
              least: 5,
              missing: "Write what they said, or what was arranged.",
              short: "Write what they said in a few words."

        def topic = "stop:#{stop}"
        def watch = [/\Asafety\z/, /\A#{Regexp.escape(topic)}\z/]

        def decide(visit)
          open = visit.stops.find { |one| one.key == stop } or
            unacceptable("stop", "That stop sign is not open.")
          if open.standing
            unacceptable(
              "stop",
              "A limit of the product is passed. It ends with another product or another order."
            )
          end

          Decision.insert(
            "stop sign dealt with: #{ACTIONS.fetch(action)}, #{who}: #{advice}",
            stop_actions: {
              stop: stop,
              action: action,
              who: who,
              advice: advice
            }
          )
        end
      end
    end
  end
end

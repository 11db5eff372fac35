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
        MISTAKE = "mistake"

        input :stop, :text, most: 120, missing: "Name the stop sign."
        input :action,
              :one_of,
              of: [*ACTIONS.keys, MISTAKE],
              missing: "Say what was done: referred, advice asked, or emergency help called."
        input :who, :line, most: 200
        input :advice,
              :text,
              least: 5,
              missing: "Write what they said, or what was arranged.",
              short: "Write what they said in a few words."

        # params - see Command; whom somebody spoke with is asked for unless it was a mistake
        def initialize(params = {})
          begin
            super
          rescue Faults => e
            faults = e.fields
          end
          nobody = who.to_s.scan(/\p{L}/).size < 2
          faults = { "who" => "Write whom you spoke with.", **faults.to_h } if nobody && !mistake?
          raise Faults, faults if faults
        end

        def authorize!(account)
          super
          @account = account
        end

        def topic = "stop:#{stop}"
        def watch = [/\Asafety\z/, /\A#{Regexp.escape(topic)}\z/]

        def decide(visit)
          open = visit.stops.find { |one| one.key == stop } or
            unacceptable("stop", "That stop sign is not open.")
          refuse_standing(open)
          mistake? ? taken_back(visit, open) : dealt_with
        end

        private

        def mistake? = action == MISTAKE

        def refuse_standing(open)
          if open.from
            unacceptable(
              "stop",
              "It was raised at #{open.from[:title]}: write there what was done."
            )
          end
          return unless open.standing

          unacceptable(
            "stop",
            "A limit of the product is passed. It ends with another product or another order."
          )
        end

        def dealt_with
          row("stop sign dealt with: #{ACTIONS.fetch(action)}, #{who}: #{advice}", who)
        end

        # the row that raised it: of this visit, by this person unless a senior says so
        def taken_back(visit, open)
          raised = visit.events.find { |entry| entry[:version] == open.seq }
          unless raised
            unacceptable("action", "It was raised at an earlier visit: that was no slip of today.")
          end
          unless raised[:by] == @account.id || @account.senior?
            unacceptable("action", "Who tapped it takes it back, or a senior.")
          end
          row("stop sign tapped by mistake: #{advice}", @account.name)
        end

        def row(said, spoken_with)
          Decision.insert(
            said,
            stop_actions: {
              stop: stop,
              action: action,
              who: spoken_with,
              advice: advice
            }
          )
        end
      end
    end
  end
end

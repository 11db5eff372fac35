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
        ACTIONS = Wording.names("stop_actions")
        MISTAKE = "mistake"

        input :stop, :text, most: 120, missing: t(:name_stop_sign)
        input :action, :one_of, of: [*ACTIONS.keys, MISTAKE], missing: t(:say_what_done_referred)
        input :who, :line, most: 200
        input :advice,
              :text,
              least: 5,
              missing: t(:write_what_was_said),
              short: t(:write_what_they_said)

        # params - see Command; whom somebody spoke with is asked for unless it was a mistake
        def initialize(params = {})
          begin
            super
          rescue Faults => e
            faults = e.fields
          end
          nobody = who.to_s.scan(/\p{L}/).size < 2
          faults = { "who" => t(:write_whom_you_spoke), **faults.to_h } if nobody && !mistake?
          raise Faults, faults if faults
        end

        def authorize!(account)
          super
          @account = account
        end

        def topic = "stop:#{stop}"
        def watch = [/\Asafety\z/, /\A#{Regexp.escape(topic)}\z/]

        def decide(visit)
          open = visit.safety.stops.find { |one| one.key == stop } or
            unacceptable("stop", t(:stop_sign_not_open))
          refuse_standing(open)
          mistake? ? taken_back(visit, open) : dealt_with
        end

        private

        def mistake? = action == MISTAKE

        def refuse_standing(open)
          unacceptable("stop", t(:raised_write_what_done, title: open.from[:title])) if open.from
          return unless open.standing

          unacceptable("stop", t(:limit_product_passed_ends))
        end

        def dealt_with
          row(t(:stop_sign_dealt, action: ACTIONS.fetch(action), who: who, advice: advice), who)
        end

        # the row that raised it: of this visit, by this person unless a senior says so
        def taken_back(visit, open)
          raised = visit.events.find { |entry| entry[:version] == open.seq }
          unacceptable("action", t(:raised_at_earlier_visit)) unless raised
          unless raised[:by] == @account.id || @account.senior?
            unacceptable("action", t(:taken_back_by_who_tapped))
          end
          row(t(:stop_sign_tapped_mistake, advice: advice), @account.name)
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

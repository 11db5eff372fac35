# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # The protocol, product or chart changed since this fitting was pinned: takes what holds now,
      # or leaves it. Either is an entry; what was left is not offered again until it changes once
      # more.
      #
      #   TakeProtocol.new("offer" => "9f2c...", "take" => "yes")
      #
      # Refuses an offer that is no longer the one that was shown.
      class TakeProtocol < VisitCommand
        input :offer, :text, most: 64, missing: t(:load_page_again)
        input :take, :flag

        def topic = "pin"
        def watch = [/\Apin\z/, /\Asize/]
        def opens? = false

        def decide(visit)
          found = Offer.of(visit)
          unacceptable("offer", t(:what_offered_has_changed)) unless found && found.digest == offer

          current = take ? found.current : visit.pin
          Decision.of(
            (
              if take
                t(:took_what_changed, names: found.names.join(", "))
              else
                t(:left_what_changed, names: found.names.join(", "))
              end
            ),
            effects: [Effects::SetPin[current: current, offer: take ? nil : offer]]
          )
        end
      end
    end
  end
end

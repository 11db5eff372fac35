# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Hands the device over, closes the visit, takes the pieces from the shelf and plans the first
      # recheck.
      #
      #   HandOverDevice.new("start_hours" => "2 to 3 hours", "signed_name" => "Wilma Quarrel", "signature" => "M 1
      #   2 L 3 4")
      #
      # signature - the drawn strokes as an SVG path, empty where the name stands for it. Refuses
      # with every reason while something stands in the way.
      class HandOverDevice < VisitCommand
        input :start_hours,
              :text,
              most: 80,
              missing: "Write how long it is worn at first, for example 2 to 3 hours."
        input :signed_name, :text, most: 200, missing: "Write the name of the person who signs."
        input :signature, :line, most: 20_000

        def topic = "hand_over"
        def watch = [//]

        def decide(visit)
          if signature && !signature.match?(/\A[ML0-9. ]+\z/)
            unacceptable("signature", "The signature could not be read. Clear it and sign again.")
          end

          pass!(visit, :hand_over)
          today = visit.clinic.today
          window = Followup::Plan.next(visit.recheck_plan, handed_over: today)
          Decision.of(
            "handed over, signed by #{signed_name}",
            rows: [
              [
                :hand_overs,
                {
                  fitting_id: visit.fitting.id,
                  start_hours: start_hours,
                  signed_name: signed_name,
                  signature: signature
                }
              ]
            ],
            visit: {
              closed_at: Store.now,
              closed_by: :account
            },
            effects: [
              Effects::TakePieces[fitting_id: visit.fitting.id],
              Effects::PlanRecheck[window: window]
            ]
          )
        end
      end
    end
  end
end

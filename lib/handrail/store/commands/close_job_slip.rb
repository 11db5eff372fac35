# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Work is back from the workshop or the maker, or is called off. What came back is looked at
      # again: its checks open.
      #
      #   CloseJobSlip.new("slip" => "7", "outcome" => "back", "note" => "hole is 10 mm lower")
      #
      # Refuses one that is closed already, or of another fitting.
      class CloseJobSlip < VisitCommand
        input :slip, :id
        input :outcome, :one_of, of: %w[back called_off], missing: "Say whether it is back."
        input :note, :line, most: 300

        def topic = "slip-row:#{slip}"

        def decide(visit)
          found = visit.slips_out.find { |row| row[:id] == slip } or
            unacceptable("slip", "That slip is closed already, or is not of this fitting.")
          unacceptable("note", "Say why it is called off.") if outcome == "called_off" && note.nil?

          words =
            (
              if outcome == "back"
                "back from the #{found[:doer]}"
              else
                "called off at the #{found[:doer]}"
              end
            )
          Decision.insert(
            "#{words}: #{found[:what]}#{", #{note}" if note}",
            slip_returns: {
              slip_id: slip,
              outcome: outcome,
              note: note
            }
          )
        end
      end
    end
  end
end

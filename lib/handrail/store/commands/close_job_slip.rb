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
        input :outcome, :one_of, of: %w[back called_off], missing: t(:say_whether_back)
        input :note, :line, most: 300

        def topic = "slip-row:#{slip}"

        def decide(visit)
          found = visit.fit.slips_out.find { |row| row[:id] == slip } or
            unacceptable("slip", t(:slip_not_open))
          unacceptable("note", t(:say_why_called_off)) if outcome == "called_off" && note.nil?

          words =
            (
              if outcome == "back"
                t(:back_from_the, doer: found[:doer])
              else
                t(:called_off, doer: found[:doer])
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

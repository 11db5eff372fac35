# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Strikes a reading out. It stays in the record with the reason, and is never used again.
      #
      #   StrikeReading.new("row" => "12", "reason" => "tape slipped")
      #
      # Refuses without a reason, and a reading that is struck out already: the first reason and
      # author stand.
      class StrikeReading < VisitCommand
        include ReadingValues

        input :reading, :id, from: "row"
        input :reason, :text, most: 300, missing: t(:say_why_struck_out)

        def topic = "reading-row:#{reading}"

        def decide(visit)
          pass!(visit)
          row = live_reading(visit, reading)
          out = { struck_at: Store.now, struck_by: :account, strike_reason: reason }
          Decision.of(
            t(
              :struck_out,
              reading_name: reading_name(row),
              reading_said: reading_said(row),
              reason: reason
            ),
            updates: [[:readings, row[:id], out]]
          )
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Answers the question that a reading raised: it is so as it stands; it was what is offered
      # (the row is struck out, and the reading kept as it was meant; where two sites were taken for
      # each other, both are put right); or it is read again (the row is struck out). It adds no
      # repeat that was not taken.
      #
      #   AnswerReading.new("reading" => "12", "answer" => "other")
      #
      # Refuses a reading that is struck out, corrected or not in question, and what was never
      # offered.
      class AnswerReading < VisitCommand
        include ReadingValues

        input :reading, :id, from: "row"
        input :answer, :one_of, of: %w[right other again], missing: "Say whether it is so."

        def topic = "reading-row:#{reading}"

        def decide(visit)
          pass!(visit)
          row = live_reading(visit, reading)
          return nil unless visit.doubtful?(row)

          case answer
          when "right"
            kept(row)
          when "again"
            again(row)
          else
            offered(visit, row)
          end
        end

        private

        # what the question offers, put right
        def offered(visit, row)
          asked = row[:question]
          return meant(visit, row) if asked["meant"]
          return exchanged(visit, row) if asked["other"]

          asked["side"] ? other_side(row, asked["side"]) : meant(visit, row)
        end

        # it was read on the other side
        def other_side(row, side)
          own = {
            **row.slice(:site, :posture, :tension, :typed, :unit, :value_mm, :tape),
            side: side
          }
          Decision.of(
            "#{reading_name(row)}: #{reading_said(row)} was the #{side} one",
            rows: [[:readings, own]],
            updates: [[:readings, row[:id], struck("was the #{side} one")]]
          )
        end

        def kept(row)
          by = { answered_at: Store.now, answered_by: :account }
          Decision.of(
            "#{reading_name(row)}: #{reading_said(row)} looked at again and kept",
            updates: [[:readings, row[:id], by]]
          )
        end

        def again(row)
          Decision.of(
            "#{reading_name(row)}: #{reading_said(row)} struck out, to be read again",
            updates: [[:readings, row[:id], struck("asked about, read again")]]
          )
        end

        def meant(visit, row)
          figure, unit = row[:question]["as"].to_a
          unless figure
            unacceptable("answer", "Nothing was offered for it. Strike it out and read again.")
          end

          own = {
            **row.slice(:site, :side, :posture, :tension),
            typed: figure,
            unit: unit,
            value_mm: Store.numeric(Quantity::Length.parse(figure, unit: unit).mm),
            tape: TAPES[unit] || metric_tape(visit.clinic)
          }
          why =
            (
              if unit == row[:unit]
                "typed #{reading_said(row)}, meant #{figure} #{unit}"
              else
                "typed in #{row[:unit]}, meant #{unit}"
              end
            )
          Decision.of(
            "#{reading_name(row)}: #{reading_said(row)} was #{figure} #{unit}",
            rows: [[:readings, own]],
            updates: [[:readings, row[:id], struck(why)]]
          )
        end

        # two sites were taken for each other: each reading stands at the other's site
        def exchanged(visit, row)
          twin =
            visit.live_readings.reverse.find do |one|
              one[:site] == row[:question]["other"] && [row[:side], nil].include?(one[:side])
            end
          unless twin
            unacceptable(
              "answer",
              "The other reading is not there any more. Strike this one out and read again."
            )
          end

          rows =
            [[row, twin], [twin, row]].map do |from, to|
              [
                :readings,
                {
                  **to.slice(:site, :side, :posture, :tension),
                  **from.slice(:typed, :unit, :value_mm, :tape)
                }
              ]
            end
          updates =
            [[row, twin], [twin, row]].map do |from, to|
              [:readings, from[:id], struck("was #{reading_name(to)}")]
            end
          Decision.of(
            "#{reading_name(row)} and #{reading_name(twin)} had been taken for each other",
            rows: rows,
            updates: updates
          )
        end

        def struck(why) = { struck_at: Store.now, struck_by: :account, strike_reason: why }
      end
    end
  end
end

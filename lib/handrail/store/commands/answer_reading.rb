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
        input :answer, :one_of, of: %w[right other again], missing: t(:say_whether_so)

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
            t(
              :reading_was_the_one,
              reading_name: reading_name(row),
              reading_said: reading_said(row),
              side: side
            ),
            rows: [[:readings, own]],
            updates: [[:readings, row[:id], struck(t(:was_the_one, side: side))]]
          )
        end

        def kept(row)
          by = { answered_at: Store.now, answered_by: :account }
          Decision.of(
            t(:looked_again_kept, reading_name: reading_name(row), reading_said: reading_said(row)),
            updates: [[:readings, row[:id], by]]
          )
        end

        def again(row)
          Decision.of(
            t(
              :struck_out_read_again,
              reading_name: reading_name(row),
              reading_said: reading_said(row)
            ),
            updates: [[:readings, row[:id], struck(t(:asked_about_read_again))]]
          )
        end

        def meant(visit, row)
          figure, unit = row[:question]["as"].to_a
          unacceptable("answer", t(:nothing_offered)) unless figure

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
                t(:typed_figure_meant, reading_said: reading_said(row), figure: figure, unit: unit)
              else
                t(:typed_meant, typed: row[:unit], meant: unit)
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
          unacceptable("answer", t(:other_reading_gone)) unless twin

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
            t(:sites_exchanged, first: reading_name(row), second: reading_name(twin)),
            rows: rows,
            updates: updates
          )
        end

        def struck(why) = { struck_at: Store.now, struck_by: :account, strike_reason: why }
      end
    end
  end
end

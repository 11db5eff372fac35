# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Answers the question that an unlikely reading raised: it is right as it stands, or the other unit was meant
      # (the row is struck out, and the reading kept in that unit). It adds no repeat that was not taken.
      #
      #   AnswerReading.new("reading" => "12", "answer" => "other")
      #
      # Refuses a reading that is struck out, corrected or not in question, and another unit where none makes it
      # likely.
      class AnswerReading < VisitCommand
        include ReadingValues

        input :reading, :id, from: "row"
        input :answer, :one_of, of: %w[right other], missing: "Say whether it is right."

        def topic = "reading-row:#{reading}"

        def decide(visit)
          pass!(visit, :measure)
          row = live_reading(visit, reading)
          return nil unless visit.doubtful?(row)

          answer == "other" ? meant(visit, row) : kept(row)
        end

        private

        def kept(row)
          by = { answered_at: Store.now, answered_by: :account }
          Decision.of("#{reading_name(row)}: #{reading_said(row)} looked at again and kept",
                      updates: [[:readings, row[:id], by]])
        end

        def meant(visit, row)
          site = Anatomy::Vocabulary.default.fetch(row[:site])
          judged = Measuring::Plausibility.judge(site, mm(row), typed_unit: row[:unit], species: visit.patient.species)
          unless judged.meant
            unacceptable("answer", "No other unit makes this reading likely. Strike it out and read again.")
          end

          figure = judged.meant.plain(judged.unit).delete_suffix(" #{judged.unit}")
          again = { **row.slice(:site, :side, :posture, :tension), typed: figure, unit: judged.unit,
                                                                   value_mm: Store.numeric(judged.meant.mm),
                                                                   tape: TAPES[judged.unit] || metric_tape(visit.clinic) }
          out = { struck_at: Store.now, struck_by: :account,
                  strike_reason: "typed in #{row[:unit]}, meant #{judged.unit}" }
          Decision.of("#{reading_name(row)}: #{reading_said(row)} was #{figure} #{judged.unit}",
                      rows: [[:readings, again]], updates: [[:readings, row[:id], out]])
        end
      end
    end
  end
end

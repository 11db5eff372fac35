# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Corrects a reading of a closed visit: a new row that names the old one, with the reason.
      # What was written stays.
      #
      #   CorrectReading.new("corrects" => "12", "value" => "37", "why" => "read the wrong line")
      #
      # Refuses on an open visit (strike out and read again there), and a row that was corrected
      # already. A correction that no body would give is refused with the question, since nobody can
      # answer it later.
      class CorrectReading < VisitCommand
        include ReadingValues

        input :reading, :id, from: "corrects"
        input :value,
              :text,
              most: LONGEST,
              missing: Wording.t("commands.nothing_typed", example: Quantity::Length::EXAMPLE)
        input :why, :text, most: 300, missing: t(:say_why_corrected)

        def topic = "reading-row:#{reading}"
        def correction? = true
        def opens? = false

        def decide(visit)
          unacceptable("visit", t(:visit_still_open_strike)) unless visit.closed?

          old = live_reading(visit, reading)
          site = Anatomy::Vocabulary.default.fetch(old[:site])
          values =
            reading_values(visit, site, value, old[:unit], **old.slice(:side, :posture, :tension))
          if values[:question]
            unacceptable("value", t(:not_what_body_gives, reading_said: reading_said(values)))
          end

          Decision.insert(
            t(
              :corrects,
              reading_name: reading_name(values),
              reading_said: reading_said(values),
              before: reading_said(old),
              why: why
            ),
            readings: {
              **values,
              corrects_id: old[:id],
              correction_reason: why
            }
          )
        end
      end
    end
  end
end

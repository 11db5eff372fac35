# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What a typed reading becomes as a row: the exact value, the text as typed, the tape, and the
      # question that an unlikely one raises. Shared by the commands that take readings.
      module ReadingValues
        # the tape that a unit is read from, where it is not the clinic's own
        TAPES = { "in" => "in 1/8", "ft" => "in 1/8" }.freeze
        TENSIONS = %w[resting snug firm hard].freeze
        LONGEST = 40

        private

        # site - an Anatomy::Site; typed, unit - as the fitter gave them.
        def reading_values(visit, site, typed, unit, side:, posture:, tension:)
          length = parsed(typed, unit)
          said = typed_unit(typed) || unit
          {
            site: site.key,
            side: side,
            posture: posture,
            tension: tension,
            typed: typed,
            unit: said,
            value_mm: Store.numeric(length.mm),
            tape: TAPES[said] || metric_tape(visit.clinic),
            question: question(visit, site, length, said)
          }
        end

        def parsed(typed, unit)
          length = Quantity::Length.parse(typed, unit: unit)
          unacceptable("value", t(:reading_more_than_nothing)) unless length.mm.positive?
          length
        rescue Quantity::Length::Unreadable => e
          unacceptable("value", e.message)
        end

        def question(visit, site, length, unit)
          judged =
            Measuring::Plausibility.judge(
              site,
              length,
              typed_unit: unit,
              species: visit.patient.species
            )
          judged.finding && Store.json(judged.finding)
        end

        def typed_unit(typed)
          Quantity::Length.unit(typed.to_s[/[[:alpha:]"'″”]+\.?\z/].to_s.tr("″”", '""'))
        end

        def metric_tape(clinic) = clinic.tape_kind.unit == "cm" ? clinic.tape : t(:cm_1_mm)

        def reading_topic(site, side) = "reading:#{site}:#{side}"

        # "left calf, widest"
        def reading_name(row)
          [row[:side], Anatomy::Vocabulary.default[row[:site]]&.short || row[:site]].compact.join(
            " "
          )
        end

        # "14 3/8 in"
        def reading_said(row) =
          typed_unit(row[:typed]) ? row[:typed] : "#{row[:typed]} #{row[:unit]}"

        # the row that stands, or a refusal
        def live_reading(visit, id)
          visit.live_readings.find { |row| row[:id] == id } or
            unacceptable("reading", t(:reading_struck_out_already))
        end
      end
    end
  end
end

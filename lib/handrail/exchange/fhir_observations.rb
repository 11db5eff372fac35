# frozen_string_literal: true

module Handrail
  module Exchange
    # What was read and said at a visit, as FHIR Observations. Part of Fhir.
    module FhirObservations
      # 72514-3: Pain severity 0-10 verbal numeric rating (LOINC; from memory)
      PAIN = {
        "system" => "http://loinc.org",
        "code" => "72514-3",
        "display" => "Pain severity - 0-10 verbal numeric rating [Score] - Reported"
      }.freeze
      UCUM = "http://unitsofmeasure.org"
      CATEGORY = "http://terminology.hl7.org/CodeSystem/observation-category"

      private

      # who read it; what came from paper was typed by somebody else
      def by_whom(visit, row)
        who = row[:read_by] || row[:by]
        practitioner(who, visit.name_of(who))
      end

      # Where the row has a version, who wrote it is told by the entry of that version (Provenance).
      def observation(visit, id, row, **fields)
        made =
          observed(
            id,
            status: row[:corrects_id] ? "corrected" : "final",
            effectiveDateTime: instant(row[:read_at] || row[:at]),
            performer: [by_whom(visit, row)],
            partOf: [reference("Procedure", "fitting-#{visit.id}")],
            **fields
          )
        @written[[visit.id, row[:version]]] << made
        made
      end

      def observed(id, **fields)
        add(
          "Observation",
          id,
          category: [{ "coding" => [{ "system" => CATEGORY, "code" => "exam" }] }],
          subject: whom,
          **fields
        )
      end

      # a reading from before: of a day, and of nobody who is known here
      def earlier(row)
        observed(
          "earlier-#{row[:id]}",
          status: "final",
          effectiveDateTime: row[:read_on].iso8601,
          **length(row)
        )
      end

      # what was read, where and how
      def length(row)
        site = Anatomy::Vocabulary.default[row[:site]]
        {
          code: own("length", "Girth or length"),
          **placed(row[:side], own(row[:site], site&.name || row[:site])),
          method: method_of(row),
          valueQuantity: quantity(row[:value_mm], "mm"),
          note: [{ "text" => "Read as #{row[:typed]} #{row[:unit]}" }]
        }
      end

      def quantity(value, unit, code = unit)
        { "value" => value.to_f.round(4), "unit" => unit, "system" => UCUM, "code" => code }
      end

      # posture and pull of the tape as one code: standing-snug, or what of it is known
      def method_of(row)
        posture, tension = row.values_at(:posture, :tension)
        return unless posture || tension

        words = [posture, tension && "tape #{tension}"].compact.join(", ")
        own([posture, tension && "-#{tension}"].join, words)
      end

      def readings(visit)
        visit.usable_readings.each do |row|
          observation(visit, "reading-#{row[:id]}", row, **length(row))
        end
      end

      def pressures(visit)
        visit
          .rows(:check_results)
          .select { |row| row[:kind] == "pressure" && row[:value] }
          .each do |row|
            observation(
              visit,
              "pressure-#{row[:id]}",
              row,
              code: own("strap-pressure", "Pressure under a strap"),
              bodySite: own(row[:place], row[:place]),
              valueQuantity: quantity(row[:value], "mmHg", "mm[Hg]")
            )
          end
      end

      def pain(visit)
        visit
          .rows(:wearer_words)
          .each do |row|
            { "without" => row[:pain_without], "with" => row[:pain_with] }.compact
              .each do |how, score|
              observation(
                visit,
                "pain-#{how}-#{row[:id]}",
                row,
                code: {
                  "coding" => [PAIN],
                  "text" => "Pain #{how} the device"
                },
                valueInteger: score,
                note: row[:place] && [{ "text" => row[:place] }]
              )
            end
          end
      end

      def volumes(visit)
        row = visit.rows(:limb_girths).last or return
        visit
          .volumes
          .states
          .select { |state| state.visit_id == visit.id }
          .each do |state|
            observation(
              visit,
              "volume-#{visit.id}-#{state.side}",
              row,
              code: own("limb-volume", "Limb volume by truncated cones"),
              **placed(state.side, own("limb", "limb")),
              valueQuantity: quantity(state.volume.ml, "mL")
            )
          end
      end
    end
  end
end

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

      def observation(visit, id, row, **fields)
        add(
          "Observation",
          id,
          status: "final",
          category: [{ "coding" => [{ "system" => CATEGORY, "code" => "exam" }] }],
          subject: whom,
          effectiveDateTime: instant(row[:at]),
          performer: [practitioner(row[:by], visit.name_of(row[:by]))],
          partOf: [reference("Procedure", "fitting-#{visit.id}")],
          **fields
        )
      end

      def quantity(value, unit, code = unit)
        { "value" => value.to_f.round(4), "unit" => unit, "system" => UCUM, "code" => code }
      end

      def readings(visit)
        visit.usable_readings.each do |row|
          site = Anatomy::Vocabulary.default[row[:site]]
          place = own(row[:site], site&.name || row[:site])
          observation(
            visit,
            "reading-#{row[:id]}",
            row,
            code: own("length", "Girth or length"),
            bodySite: row[:side] ? sided(row[:side], place) : place,
            method:
              own("#{row[:posture]}-#{row[:tension]}", "#{row[:posture]}, tape #{row[:tension]}"),
            valueQuantity: quantity(row[:value_mm], "mm"),
            note: [{ "text" => "Read as #{row[:typed]} #{row[:unit]}" }]
          )
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
              bodySite: sided(state.side, own("limb", "limb")),
              valueQuantity: quantity(state.volume.ml, "mL")
            )
          end
      end
    end
  end
end

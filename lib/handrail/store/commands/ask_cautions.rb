# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Identity and cautions, asked at the start of a visit and again whenever something new is
      # seen.
      #
      #   AskCautions.new("identity" => "yes", "stops" => ["chest"], "care" => ["diabetes"], "note" => "on blood
      #   thinners")
      #
      # Refuses without two identifiers, and for a family that asks for the ankle-brachial index
      # where the index is low, unreliable or not known and nobody is named who agreed to go on. A
      # stop that is ticked is kept and holds the visit.
      class AskCautions < VisitCommand
        input :identity, :flag
        input :stops, :keys
        input :care, :keys
        input :note, :line
        input :pressures, :map
        input :agreed_by, :line, most: 200
        # id of what was asked at this sitting for another device of the wearer, and is taken over
        input :beside, :id, default: nil

        # what is taken over is one's own
        def authorize!(account)
          super
          @asks = account.id
        end

        def topic = "safety"
        def rests_on(_visit) = [:safety_questions]

        def decide(visit)
          pass!(visit)
          unacceptable("identity", t(:ask_name_date_birth)) unless identity

          over = taken_over(visit)
          family = visit.family
          signs = family.stop_signs.map(&:key) & stops
          cares = family.care_prompts.map(&:key) & care
          found = family.index ? index(visit) : {}
          Decision.insert(
            [said(signs, cares, found, visit.safety.standing), over].compact.join(", "),
            safety_questions: {
              identity: true,
              stops: Store.json(signs),
              care: Store.json(cares),
              note: note,
              **found.transform_values { |value| Store.json(value) }
            }
          )
        end

        private

        def taken_over(visit)
          return unless beside

          row = visit.source.asked_beside
          unless row && row[:id] == beside && row[:by] == @asks && AskedBeside.stands?(row, visit)
            unacceptable("identity", Wording.t("asked.beside_gone"))
          end
          Wording.t(
            "asked.beside",
            at: visit.clinic.local(row[:at]).strftime("%H:%M"),
            device: row[:title]
          )
        end

        def said(signs, cares, found, standing)
          stop = signs.any? || found[:findings].to_a.any? { |finding| finding["state"] == "stop" }
          return t(:stop_sign) if stop

          more = [
            t(:take_care, many: cares.size),
            *standing.map { |text| t(:standing, text: text) }
          ]
          [t(:identity_confirmed_cautions_asked), *more.drop(cares.any? ? 0 : 1)].join(", ")
        end

        # the index of each side, kept as typed and as found
        def index(visit)
          typed =
            pressures
              .slice(*Compression::AnkleBrachial::LABELS.keys)
              .reject { |_, text| text.empty? }
          read, faults = visit.method_of("ankle_brachial").read(typed)
          raise(Faults, faults.transform_keys { |key| "pressures[#{key}]" }) if faults.any?

          findings = read.findings(visit.sides.compact)
          open = findings.find { |finding| finding.state == :look_again }
          if open && agreed_by.nil?
            unacceptable("agreed_by", t(:write_who_agreed, ankle_index: Wording.ankle_index(open)))
          end

          kept =
            findings.map do |finding|
              {
                "side" => finding.side,
                "index" => finding.index&.to_f&.round(3),
                "state" => finding.state.to_s,
                "code" => finding.code.to_s
              }
            end
          {
            pressures: typed.merge("agreed_by" => agreed_by, **measured(visit, typed)).compact,
            findings: kept
          }
        end

        # the day of figures that were taken over from an earlier visit
        def measured(visit, typed)
          before, on = visit.safety.pressures_before
          before == typed ? { "measured_on" => on.iso8601 } : {}
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Writes marks and settings of a side, all that were typed in one entry. What is as it was is
      # passed over.
      #
      #   WriteSettings.new("settings" => { "calf" => "60 mm", "dial" => "middle" }, "side" => "left")
      class WriteSettings < VisitCommand
        input :settings, :map
        input :side, :key

        def topic = "settings:#{side}"

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          typed = changed(visit, own)
          return nil if typed.empty?

          rows = typed.map { |field, text| [:strap_settings, row(visit, field, text, own)] }
          said =
            typed.map do |field, text|
              "#{field.label} #{field.type == "length" ? printed(field, text) : field.print(text)}"
            end
          Decision.of(with_side(visit, own, said.join(", ")), rows: rows)
        end

        private

        # [[field, text], ...] of what is new. Raises Faults with every field that can not be read.
        def changed(visit, own)
          known = visit.settings(own).to_h { |field, row| [field.key, [field, row && row[:typed]]] }
          found =
            settings.filter_map do |key, text|
              field, was = known[key]
              [field, text] if field && !text.empty? && text != was
            end
          faults =
            found.filter_map { |field, text| [field.key, field.fault(text)] if field.fault(text) }
          raise Faults, faults.to_h if faults.any?

          found
        end

        def row(visit, field, text, own)
          value =
            (
              if field.type == "length"
                Store.numeric(Quantity::Length.parse(text, unit: field.unit).mm)
              end
            )
          {
            side: own,
            setting: field.key,
            typed: text,
            value_mm: value,
            kind: visit.family.marks["kind"]
          }
        end

        def printed(field, text) = Quantity::Length.parse(text, unit: field.unit).plain("mm")
      end
    end
  end
end

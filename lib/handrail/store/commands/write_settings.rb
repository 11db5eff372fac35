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
          known =
            visit.fit.settings(own).to_h { |field, row| [field.key, [field, row && row[:typed]]] }
          found =
            settings.filter_map do |key, text|
              field, was = known[key]
              [field, text] if field && !text.empty? && text != was
            end
          faults = found.to_h { |field, text| [field.key, field.fault(text)] }.compact
          faults = bound_faults(visit, own, found) if faults.empty?
          raise Faults, faults if faults.any?

          found
        end

        # what is set may not pass what was ordered, or what was read of this wearer; said where it was typed
        def bound_faults(visit, own, found)
          typed = found.to_h { |field, text| [field.key, text] }
          Handrail::Fitting::SettingBounds
            .new(
              visit.fit.settings(own),
              fields: visit.family.fields,
              config: visit.wear.allowed(own),
              typed: typed
            )
            .passed
            .to_h { |one| [typed.key?(one.field.key) ? one.field.key : one.by, passed(one)] }
        end

        def passed(one)
          field = one.field
          return t(:comes_first, label: field.label, bound: one.label) unless one.bound

          "#{field.label}: #{one.text} passes #{one.label} (#{one.bound_said})."
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

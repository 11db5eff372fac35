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
          faults =
            found.filter_map do |field, text|
              fault = field.fault(text) || bound_fault(visit, own, field, text)
              [field.key, fault] if fault
            end
          raise Faults, faults.to_h if faults.any?

          found
        end

        # what is set may not pass what was ordered, or what was read of this wearer
        def bound_fault(visit, own, field, text)
          [[:at_most, 1], [:at_least, -1]].each do |name, way|
            key = field.public_send(name) or next
            label, bound = bound(visit, own, key)
            next if bound == :any
            return t(:comes_first, label: field.label, bound: label) unless bound

            if (amount(field, text) <=> bound) == way
              return "#{field.label}: #{text} passes #{label} (#{printed_bound(field, bound)})."
            end
          end
          nil
        end

        # [what it is called, the exact number], nil in its place where it is not known: a setting as
        # it is typed now or written, else a field of the order; :any where that says nothing
        def bound(visit, own, key)
          field, row = visit.fit.settings(own).find { |one, _| one.key == key }
          if field
            text = settings[key].to_s
            text = row && row[:typed] if text.empty?
            return field.label, (text && !field.fault(text) ? amount(field, text) : nil)
          end

          ordered = visit.family.fields.find { |one| one.key == key }
          typed = visit.config[key].to_s
          [ordered.label, typed.empty? ? :any : amount(ordered, typed)]
        end

        def amount(field, text)
          return Families::Number.read(text) unless field.type == "length"

          Quantity::Length.parse(text, unit: field.unit).mm
        end

        def printed_bound(field, bound) =
          if field.type == "length"
            Quantity::Length.mm(bound).plain("mm")
          else
            Families::Number.print(bound)
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

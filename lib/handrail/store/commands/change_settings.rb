# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Changes what the clinic says of itself: name, address, town, telephone, time zone, the tape in use, what it
      # fits. Fittings that run keep what they were made on; what was read keeps the tape it was read from. A page that
      # has not seen another senior's change is told, and writes nothing.
      class ChangeSettings < ClinicCommand
        role :senior
        input :seen, :line, most: 16, missing: "Load the page again."
        input :name, :line, most: 120
        input :address, :line, most: 400
        input :place, :line, most: 80
        input :phone, :line, most: 60
        input :time_zone, :line, most: 60
        input :tape, :line, most: 20
        input :families, :keys

        def perform(clinic, _account)
          fresh = Clinic.where(id: clinic.id).for_update.first
          raise Stale, [] if ClinicValues.digest(fresh) != seen

          values = ClinicValues.read(given)
          refuse!(ClinicValues.faults(values))
          before = ClinicValues.of(fresh)
          fresh.update(ClinicValues.columns(values))
          ["settings: #{changes(before, values)}", {}]
        end

        private

        def given
          { "name" => name, "address" => address, "place" => place, "phone" => phone, "time_zone" => time_zone,
            "tape" => tape, "families" => families.to_a }
        end

        def changes(before, after)
          changed = after.reject { |field, value| before[field] == value }
          return "nothing changed" if changed.empty?

          changed.map { |field, value| "#{field.tr('_', ' ')} #{said(before[field])} to #{said(value)}" }.join("; ")
        end

        def said(value) = value.is_a?(Array) ? "[#{value.join(', ')}]" : "“#{value}”"
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Changes what the clinic says of itself: name, address, town, telephone, time zone, the tape
      # in use, what it fits, and what it has settled for itself (Choices). Fittings that run keep
      # what they were made on; what was read keeps the tape it was read from. A page that has not
      # seen another senior's change is told, and writes nothing.
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
        input :choices, :map, most: 400, lists: true
        input :bedside_routine, :flag
        input :codes_required, :flag

        def perform(clinic, _account)
          fresh = Clinic.where(id: clinic.id).for_update.first
          raise Stale, [] if ClinicValues.digest(fresh) != seen

          values = ClinicValues.read(given)
          chosen = Choices.read(choices)
          refuse!(
            { **strangers(clinic, chosen), **ClinicValues.faults(values), **Choices.faults(chosen) }
          )
          before = all_of(fresh)
          fresh.update(
            **ClinicValues.columns(values),
            choices: Store.json(chosen),
            bedside_routine: bedside_routine,
            codes_required: codes_required
          )
          ["settings: #{changes(before, all_of(fresh))}"[0, 4000], {}]
        end

        private

        # a word that nobody could give would hold a stage for ever
        def strangers(clinic, chosen)
          named = Choices::WORDS.to_h { |name| [name, Choices.names(chosen[name])] }
          return {} if named.values.all?(&:empty?)

          mine = { clinic_id: clinic.id, role: "senior", status_id: 2 }
          seniors = Account.where(mine).select_map(:email).map(&:downcase)
          named
            .transform_values { |emails| (emails - seniors).first }
            .compact
            .transform_values { |email| "No senior here signs in as #{email}." }
        end

        def given
          {
            "name" => name,
            "address" => address,
            "place" => place,
            "phone" => phone,
            "time_zone" => time_zone,
            "tape" => tape,
            "families" => families.to_a
          }
        end

        def all_of(clinic)
          more = ClinicValues.more(clinic)
          ClinicValues.of(clinic).merge(more.delete("choices").to_h, more)
        end

        def changes(before, after)
          changed = (before.keys | after.keys).reject { |field| before[field] == after[field] }
          return "nothing changed" if changed.empty?

          changed
            .map { |field| "#{field.tr("_", " ")} #{said(before[field])} to #{said(after[field])}" }
            .join("; ")
        end

        def said(value) = value.is_a?(Array) ? "[#{value.join(", ")}]" : "“#{value}”"
      end
    end
  end
end

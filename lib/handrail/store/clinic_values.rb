# frozen_string_literal: true

module Handrail
  module Store
    # What a clinic says of itself, and what is wrong with it: for the set-up and for the settings
    # alike.
    module ClinicValues
      # field => the most characters
      FIELDS = {
        "name" => 120,
        "address" => 400,
        "place" => 80,
        "phone" => 60,
        "time_zone" => 60,
        "tape" => 20
      }.freeze

      # zones that are offered: those of continents, not the abbreviations
      ZONES =
        TZInfo::Timezone
          .all_data_zone_identifiers
          .grep(/\A(Europe|America|Australia|Asia|Africa|Pacific)/)
          .freeze
      NO_ZONE = "There is no time zone of this name. It is written like Europe/London."

      class << self
        # The fields of a form as texts, and the families that are known.
        def read(form)
          values = FIELDS.to_h { |name, most| [name, form[name].to_s.strip[0, most]] }
          families = Array(form["families"]).grep(String) & Families::Registry.all.keys
          values.merge("families" => families)
        end

        # field => words
        def faults(values)
          {
            "name" => ("Write the clinic's name as it stands on papers." if values["name"].empty?),
            "place" => ("Write the town." if values["place"].empty?),
            "time_zone" =>
              (NO_ZONE unless TZInfo::Timezone.all_identifiers.include?(values["time_zone"])),
            "tape" => ("Choose the tape in use." unless Quantity::Tape::ALL.key?(values["tape"]))
          }.compact
        end

        # The same as columns of a clinic.
        def columns(values)
          families = values["families"]
          values
            .except("families")
            .transform_keys(&:to_sym)
            .merge(families: families.empty? ? nil : Store.json(families))
        end

        # What a clinic says now, as `read` gives it.
        def of(clinic)
          FIELDS
            .keys
            .to_h { |name| [name, clinic[name.to_sym].to_s] }
            .merge("families" => clinic.families.to_a)
        end

        # A digest of it, for a page to say what it has seen.
        def digest(clinic) =
          Digest::SHA256.hexdigest(JSON.generate([of(clinic), more(clinic)]))[0, 16]

        # What the settings say beside it: what is chosen, and two switches.
        def more(clinic)
          {
            "choices" => clinic.choices.to_h,
            "bedside_routine" => clinic.bedside_routine,
            "codes_required" => clinic.codes_required
          }
        end
      end
    end
  end
end

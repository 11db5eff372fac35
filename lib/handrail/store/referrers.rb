# frozen_string_literal: true

module Handrail
  module Store
    # Who sends wearers to a clinic: those that it lists, then those who prescribed last.
    module Referrers
      # the newest orders that are looked at; so many names are offered
      LOOKED_AT = 200
      SHOWN = 40
      private_constant :LOOKED_AT, :SHOWN

      # Names, each once.
      def self.of(clinic)
        written =
          Prescription
            .where(clinic_id: clinic.id)
            .reverse(:id)
            .limit(LOOKED_AT)
            .select_map(:prescriber)
        (clinic.choices_made.referrers + written).uniq.first(SHOWN)
      end
    end
  end
end

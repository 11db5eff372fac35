# frozen_string_literal: true

module Handrail
  module Store
    # What a wearer has: devices that are worn, and orders under way.
    #
    #   Worn.of(clinic, 17).map(&:title) # => ["left compression wrap"]
    module Worn
      # fitting_id; family - key; side - as it was ordered; title - in words; since - a Date, nil where it is not
      # handed over yet
      One = Value.new(:fitting_id, :family, :side, :title, :since)

      # Those of a wearer that have not ended, the newest first.
      def self.of(clinic, patient_id)
        ids =
          Fitting
            .where(clinic_id: clinic.id, patient_id: patient_id, ended_at: nil)
            .reverse(:id)
            .select_map(:id)
        Visits
          .of_fittings(clinic, ids)
          .values
          .map do |visits|
            newest = visits.last
            given = visits.first.hand_over
            One[
              fitting_id: newest.fitting.id,
              family: newest.family.key,
              side: newest.side,
              title: newest.title,
              since: given && clinic.today(given[:at])
            ]
          end
      end
    end
  end
end

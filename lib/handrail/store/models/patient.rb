# frozen_string_literal: true

module Handrail
  module Store
    # A wearer: a person, or an animal with its owner.
    class Patient < Sequel.Model(Store.db[:patients])
      one_to_many :fittings, class: "Handrail::Store::Fitting"

      # Wearers of a clinic by their ids: id => Patient.
      def self.of(clinic, ids)
        Store
          .prepared(:wearers, clinic: clinic.id, ids: ids.join(",")) do
            where(clinic_id: :$clinic, id: Store.among(:$ids))
          end
          .to_h { |patient| [patient.id, patient] }
      end

      def animal? = species != "human"
      def name = [given_name, family_name].compact.reject(&:empty?).join(" ")
    end
  end
end

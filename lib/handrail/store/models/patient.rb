# frozen_string_literal: true

module Handrail
  module Store
    # A wearer: a person, or an animal with its owner.
    class Patient < Sequel.Model(Store.db[:patients])
      one_to_many :fittings, class: "Handrail::Store::Fitting"

      def animal? = species != "human"
      def name = [given_name, family_name].compact.reject(&:empty?).join(" ")
    end
  end
end

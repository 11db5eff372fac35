# frozen_string_literal: true

module Handrail
  module Store
    # One device for one wearer, from its order to the last recheck.
    class Fitting < Sequel.Model(Store.db[:fittings])
      many_to_one :patient, class: "Handrail::Store::Patient"
      many_to_one :prescription, class: "Handrail::Store::Prescription"
      many_to_one :product, class: "Handrail::Store::Product"
      one_to_many :visits, class: "Handrail::Store::Visit", order: :number
    end
  end
end

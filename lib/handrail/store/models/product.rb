# frozen_string_literal: true

module Handrail
  module Store
    # What a maker offers of a device family.
    class Product < Sequel::Model(Store.db[:products])
      many_to_one :maker, class: "Handrail::Store::Maker"

      def full_name = "#{maker.name} #{name}"
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # What a maker offers of a device family.
    class Product < Sequel.Model(Store.db[:products])
      many_to_one :maker, class: "Handrail::Store::Maker"
      many_to_one :clinic, class: "Handrail::Store::Clinic"

      def full_name = "#{maker.name} #{name}"
      def device_family = clinic.device_families.fetch(family)

      # The newest chart in force on a day of the clinic, or nil.
      def revision(on) = ChartRevision.in_force([id], on: on)[id]

      # The sizes that can stand on the shelf: those of the chart, or a run without names for what
      # is cut to fit.
      def size_names(on) = revision(on)&.chart&.names || ["one size"]
    end
  end
end

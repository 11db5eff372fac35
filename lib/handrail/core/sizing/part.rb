# frozen_string_literal: true

module Handrail
  module Sizing
    # One independent axis of a chart ("calf girth", "length"); its sizes from the smallest up.
    class Part
      attr_reader :name, :sizes, :demands

      def initialize(name, sizes)
        @name = name
        @sizes = sizes.freeze
        @bands = sizes.flat_map(&:bands).group_by(&:demand).freeze
        @demands = @bands.keys.freeze
        freeze
      end

      # All bands for one demand, from the smallest size up.
      def bands(demand) = @bands.fetch(demand)

      # A band as it is printed.
      def text(band) = band.to_s

      # The sizes that have a band for this demand which holds the value: the sizes that the reading
      # names.
      def named(demand, mm)
        sizes.select { |size| size.bands.any? { |band| band.demand == demand && band.hold?(mm) } }
      end

      def match(values, missing, rule) = PartMatch.new(self, values, missing, rule)
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Families
    # Straps as many as a sheet counts: an adjustable wrap has those it comes with and those that
    # were added.
    module Straps
      # drawn - the family's Straps, lowest first, whose levels are the lowest and the highest;
      # count - how many. Returns Straps numbered from the bottom, spread evenly between the first
      # and the last drawn one.
      def self.spread(drawn, count)
        low, high = [drawn.first, drawn.last].map { |strap| Quantity::Length.parse(strap.level).mm }
        Array.new(count) do |i|
          level = low + ((high - low) * Rational(i, [count - 1, 1].max))
          Strap[
            key: "strap_#{i + 1}",
            number: i + 1,
            label: label(i, count),
            level: Quantity::Length.mm(level).plain("mm")
          ]
        end
      end

      def self.label(index, count)
        return "Strap #{index + 1}, lowest" if index.zero?

        index == count - 1 ? "Strap #{index + 1}, top" : "Strap #{index + 1}"
      end
      private_class_method :label
    end
  end
end

# frozen_string_literal: true

module Handrail
  class Visit
    # Which sides a visit is about: what was ordered, less what has ended. Left and right of a pair go each its
    # own way; "both" is an order, never the side of anything that was seen or done.
    #
    #   visit.side   # => "both", "left", "right" or nil
    #   visit.sides  # => ["left", "right"]; [nil] where a device has no side
    module Sides
      OTHER = { "left" => "right", "right" => "left" }.freeze

      # The side that was ordered; of a pair of which one has ended, the one that goes on.
      def side
        return @side if defined?(@side)

        left = Measuring::Plan.sides(prescription.side) - ended_sides
        @side = left.one? && ended_sides.any? ? left.first : prescription.side
      end

      def sides = @sides ||= Measuring::Plan.sides(side).freeze
      def other_side = OTHER[side]

      # Whether a pair was ordered, also once one of it has ended: what was written of one side is told
      # apart by this, so that it keeps its name.
      def pair? = Measuring::Plan.sides(prescription.side).size > 1

      # A side as it is said where a pair was ordered: "left", else nil.
      def said_side(side) = pair? ? side : nil

      # The sides of a pair that had ended when this visit was held.
      def ended_sides
        @ended_sides ||=
          rows_so_far(:side_ends)
            .select { |row| row[:here] || row[:visit_id] != id }
            .map { |row| row[:side] }
            .freeze
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    # What the readings say on one part of a chart.
    #
    # verdict - :fits, :overlap, :between, :below, :above, :conflict or :unusable size - the Size
    # chosen, nil for :below, :above and :unusable; candidates - the Sizes it was chosen from values
    # - Demand => Repeats, for the demands of this part that have readings; missing - Demand =>
    # readings of that site in another posture or tension
    class PartMatch
      attr_reader :part, :verdict, :size, :candidates, :values, :missing, :rule

      def initialize(part, values, missing, rule)
        @part = part
        @rule = rule
        @missing = missing.slice(*part.demands)
        @values = values.slice(*part.demands)
        @verdict, @candidates = decide
        @size = @candidates.empty? ? nil : rule.choose(part, @candidates, @values, verdict)
        freeze
      end

      # The chosen size's bands with the value that each is held against: [[Band, Repeats], ...].
      def pairs(size = self.size) =
        size ? size.bands.map { |band| [band, values[band.demand]] } : []

      # Demands whose reading lies below every band, above every band, or in none.
      def under = demands_where { |mm, bands| bands.all? { |band| mm < band.min } }
      def over = demands_where { |mm, bands| bands.all? { |band| mm > band.max } }
      def homeless = demands_where { |mm, bands| bands.none? { |band| band.hold?(mm) } }

      # The sizes that one reading names.
      def named(demand) = part.named(demand, values[demand].mm)

      private

      def decide
        return :unusable, [] if missing.any?

        holding = part.sizes.select { |size| size.hold?(values) }
        return holding.one? ? :fits : :overlap, holding if holding.any?
        return :below, [] if under.any?
        return :above, [] if over.any?
        return :between, neighbours if homeless.any?

        [:conflict, in_order(part.demands.flat_map { |demand| named(demand) })]
      end

      def demands_where
        values.keys.select { |demand| yield values[demand].mm, part.bands(demand) }
      end

      # The sizes on both sides of every gap that a reading lies in.
      def neighbours
        in_order(
          homeless.flat_map do |demand|
            side(demand, :max, :<, :max_by) + side(demand, :min, :>, :min_by)
          end
        )
      end

      # Where several sizes share the edge of the gap (a grid), those that hold the other readings
      # go before those that do not.
      def side(demand, edge, compare, nearest)
        mm = values[demand].mm
        beyond = part.bands(demand).select { |band| band[edge].public_send(compare, mm) }
        closest = beyond.public_send(nearest, &edge)[edge]
        sizes =
          part.sizes.select do |size|
            size.bands.any? { |band| band.demand == demand && band[edge] == closest }
          end
        fitting =
          sizes.select do |size|
            size.bands.all? { |band| band.demand == demand || band.hold?(values[band.demand].mm) }
          end
        fitting.empty? ? sizes : fitting
      end

      def in_order(sizes) = sizes.uniq.sort_by(&:position)
    end
  end
end

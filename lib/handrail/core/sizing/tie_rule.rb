# frozen_string_literal: true

module Handrail
  module Sizing
    # How a chart chooses when its readings leave more than one size, or none exactly.
    #
    #   larger   the largest candidate        smaller  the smallest
    #   nearest  the one whose bands the readings leave by the least in sum, the larger when equal; among sizes that
    #            all hold the readings, the one whose middle is nearest
    #   primary  the one that the primary site names; the larger where it names none or several
    class TieRule
      NAMES = %w[larger smaller nearest primary].freeze

      attr_reader :name, :primary

      # Raises Handrail::Error for an unknown rule, or for "primary" without a site.
      def initialize(name = "larger", primary: nil)
        unless NAMES.include?(name)
          raise Handrail::Error, "There is no tie rule “#{name}”: use #{NAMES.join(", ")}."
        end
        if name == "primary" && primary.to_s.empty?
          raise Handrail::Error, "The tie rule primary needs a primary site."
        end

        @name = name
        @primary = primary
        freeze
      end

      # part - the Part; candidates - Sizes from the smallest up, not empty; values - Demand =>
      # Repeats; verdict - of the part. Returns a Size.
      def choose(part, candidates, values, verdict)
        case name
        when "larger"
          candidates.last
        when "smaller"
          candidates.first
        when "nearest"
          candidates.reverse.min_by { |size| distance(size, values, verdict) }
        when "primary"
          by_primary(part, candidates, values)
        end
      end

      private

      def distance(size, values, verdict)
        size.bands.sum do |band|
          mm = values[band.demand].mm
          verdict == :overlap ? (mm - band.middle).abs : band.outside(mm)
        end
      end

      def by_primary(part, candidates, values)
        demand = part.demands.find { |d| d.site == primary }
        named = demand ? part.named(demand, values[demand].mm) : []
        (candidates & named).last || named.last || candidates.last
      end
    end
  end
end

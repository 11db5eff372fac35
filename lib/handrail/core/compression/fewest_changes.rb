# frozen_string_literal: true

module Handrail
  module Compression
    # Which straps of a wrap to ease or to pull, so that the pressure falls from the lowest to the
    # top one, with as few changes as can be.
    #
    # Targets lie on the straight line from the bottom's to the top's by strap number. A strap may
    # stay where it presses within the band of its target and no strap that stays above it presses
    # more. As many as possible stay; of equal choices the one whose changes sum to the least. Every
    # other strap is set to its target, but not above the nearest strap below it that stays, and not
    # below the nearest one above it that stays.
    class FewestChanges
      # number; pressure, target - mmHg; set_to - mmHg, or nil for one that stays
      Strap =
        Value.new(:number, :pressure, :target, :set_to) do
          def state
            return :leave if set_to.nil?

            set_to < pressure ? :ease : :pull
          end
        end

      # The best way to begin up to a strap that stays: how many stay, how much is changed, and the
      # one before.
      Way =
        Value.new(:stays, :changed, :before) do
          def better_than?(other) =
            other.nil? || stays > other.stays || (stays == other.stays && changed < other.changed)
        end

      # pressures - strap number => mmHg, exact; bottom, top - mmHg wanted at the lowest and at the
      # top strap; within - the band on either side of a target
      def initialize(pressures, bottom: Rational(95, 2), top: 30, within: 3)
        @numbers = pressures.keys.sort
        @pressures = @numbers.map { |number| Rational(pressures[number]) }
        @targets = @numbers.map { |number| target(number, Rational(bottom), Rational(top)) }
        @within = Rational(within)
      end

      # The Straps from the bottom up.
      def straps
        staying = stay
        @numbers.each_index.map do |i|
          set_to =
            (
              if staying.include?(i)
                nil
              else
                wanted(i, staying.reverse.find { |j| j < i }, staying.find { |j| j > i })
              end
            )
          Strap[
            number: @numbers[i],
            pressure: @pressures[i],
            target: @targets[i],
            set_to: set_to == @pressures[i] ? nil : set_to
          ]
        end
      end

      private

      def target(number, bottom, top)
        return bottom if @numbers.size == 1

        bottom +
          ((top - bottom) * Rational(number - @numbers.first, @numbers.last - @numbers.first))
      end

      def may_stay?(i) = (@pressures[i] - @targets[i]).abs <= @within

      # a strap's target between those that stay below and above it (indices, or nil)
      def wanted(i, below, above)
        value = @targets[i]
        value = [value, @pressures[below]].min if below
        value = [value, @pressures[above]].max if above
        value
      end

      # what is changed between two that stay (nil: the ends)
      def cost(below, above)
        (((below || -1) + 1)...(above || @numbers.size)).sum(Rational(0)) do |i|
          (wanted(i, below, above) - @pressures[i]).abs
        end
      end

      # indices of those that stay: the longest run that never rises, then the least change
      def stay
        ways = {}
        @numbers.each_index.select { |i| may_stay?(i) }.each { |i| ways[i] = way_to(i, ways) }
        last = best([nil, *ways.keys], ways) { |i| cost(i, nil) }
        chain(last, ways)
      end

      def way_to(i, ways)
        before = ways.keys.select { |j| @pressures[j] >= @pressures[i] }
        from = best([nil, *before], ways) { |j| cost(j, i) }
        Way[
          stays: (from ? ways[from].stays : 0) + 1,
          changed: (from ? ways[from].changed : 0) + cost(from, i),
          before: from
        ]
      end

      # of ways that end at these indices (nil: nothing stays before), the best one with what comes
      # after it
      def best(indices, ways)
        indices
          .map do |i|
            way = ways[i]
            [i, Way[stays: way ? way.stays : 0, changed: (way ? way.changed : 0) + yield(i)]]
          end
          .reduce { |(i, way), (j, other)| other.better_than?(way) ? [j, other] : [i, way] }
          .first
      end

      def chain(last, ways)
        found = []
        while last
          found.unshift(last)
          last = ways[last].before
        end
        found
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Learning
    # How often what was said with a probability was so: in steps of a tenth, with the Brier score
    # (G. W. Brier, Monthly Weather Review 78, 1950): the mean square of what was said less what was.
    #
    #   found = Reliability.of([[0.7, true], [0.7, true], [0.72, false]])
    #   found.steps.first # => said 0.71 in the mean, right 2 of 3
    #   found.brier       # => 0.22
    class Reliability
      # said - mean probability of a step; right, count; low, high - of the share that was right
      Step = Value.new(:said, :right, :count, :low, :high) { def share = right.to_f / count }

      # A step's sums: step - 0 to 9; count; right - how many were so; said - sum of the
      # probabilities; squares - sum of the squares of what was said less what was.
      Sum = Value.new(:step, :count, :right, :said, :squares)

      # points - [[probability 0 to 1, whether it was so], ...]
      def self.of(points)
        sums =
          points
            .group_by { |said, _| [(said * 10).floor, 9].min }
            .map do |step, own|
              Sum[
                step: step,
                count: own.size,
                right: own.count(&:last),
                said: own.sum(&:first),
                squares: own.sum { |said, so| (said - (so ? 1 : 0))**2 }
              ]
            end
        new(sums)
      end

      # sums - Sums, one a step that has points
      def initialize(sums) = @sums = sums.sort_by(&:step)

      def count = @sums.sum(&:count)

      # Steps that have points, the least probable first.
      def steps
        @sums.map do |sum|
          low, high = Learning.wilson(sum.right, sum.count)
          Step[said: sum.said / sum.count, right: sum.right, count: sum.count, low: low, high: high]
        end
      end

      # 0 where every word was certain and right, 0.25 for always saying a half, 1 at the worst; nil
      # where nothing was said.
      def brier = (@sums.sum(&:squares) / count.to_f if count.positive?)
    end
  end
end

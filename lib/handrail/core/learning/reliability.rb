# frozen_string_literal: true

module Handrail
  module Learning
    # How often what was said with a probability was so: in steps of a tenth, with the Brier score
    # (G. W. Brier, Monthly Weather Review 78, 1950): the mean square of what was said less what was.
    #
    #   found = Reliability.new([[0.7, true], [0.7, true], [0.72, false]])
    #   found.steps.first # => said 0.71 in the mean, right 2 of 3
    #   found.brier       # => 0.22
    class Reliability
      # said - mean probability of a step; right, count; low, high - of the share that was right
      Step = Value.new(:said, :right, :count, :low, :high) { def share = right.to_f / count }

      attr_reader :points

      # points - [[probability 0 to 1, whether it was so], ...]
      def initialize(points) = @points = points

      def count = points.size

      # Steps that have points, the least probable first.
      def steps
        points
          .group_by { |said, _| [(said * 10).floor, 9].min }
          .sort
          .map do |_, own|
            right = own.count(&:last)
            low, high = Learning.wilson(right, own.size)
            Step[
              said: own.sum(&:first) / own.size,
              right: right,
              count: own.size,
              low: low,
              high: high
            ]
          end
      end

      # 0 where every word was certain and right, 0.25 for always saying a half, 1 at the worst; nil
      # where nothing was said.
      def brier
        points.sum { |said, so| (said - (so ? 1 : 0))**2 } / count.to_f if count.positive?
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Drawings
    # What was said against what was: a dot a step, with the interval of its share; on the dashed line
    # said and so are the same.
    class ReliabilityDiagram
      SIZE = 320
      LEFT = 46
      FOOT = 276
      SPAN = 230

      # steps - Learning::Reliability::Steps
      def initialize(steps) = @steps = steps

      def to_s
        SVG.draw(SIZE, SIZE, label: label, class: "reliability") do |svg|
          svg.line(x(0), y(0), x(1), y(1), class: "straight")
          svg.line(x(0), y(0), x(1), y(0), class: "axis")
          svg.line(x(0), y(0), x(0), y(1), class: "axis")
          [0, 0.5, 1].each do |share|
            svg.text(x(share), FOOT + 20, (share * 100).round.to_s, "text-anchor": "middle")
            svg.text(LEFT - 8, y(share) + 5, (share * 100).round.to_s, "text-anchor": "end")
          end
          svg.text(x(0.5), FOOT + 38, "said, in 100", "text-anchor": "middle")
          @steps.each { |step| step(svg, step) }
        end
      end

      def label
        said =
          @steps.map do |step|
            "said #{(step.said * 100).round} in 100: right #{step.right} of #{step.count}"
          end
        said.empty? ? "Nothing to show yet" : said.join("; ")
      end

      private

      def x(share) = LEFT + (share * SPAN)
      def y(share) = FOOT - (share * SPAN)

      def step(svg, step)
        svg.line(x(step.said), y(step.low), x(step.said), y(step.high), class: "range")
        svg.circle(x(step.said), y(step.share), 6, class: "dot")
        svg.text(x(step.said) + 9, y(step.share) + 5, step.count.to_s, class: "of")
      end
    end
  end
end

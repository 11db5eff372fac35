# frozen_string_literal: true

module Handrail
  module Drawings
    # The points of a line as they were placed, joined, beside the straight line that they are held
    # against: for the fitter, and large for the wearer, who is shown it. What is straight is dashed,
    # what is theirs is whole, so that no colour alone says it.
    class LineOfBody
      FRAME = 620
      EDGE = 40

      # alignment - a Fitting::Alignment; words - what it says; photo - { path:, width:, height: } on
      # which the points lie, or nil.
      def initialize(alignment, words:, photo: nil)
        @alignment = alignment
        @words = words
        @photo = photo
      end

      def to_s
        SVG.draw(width, height, label: @words, class: "line-of-body") do |svg|
          if @photo
            svg.element(
              :image,
              href: @photo[:path],
              x: svg.n(at([0, 0]).first),
              y: svg.n(at([0, 0]).last),
              width: svg.n(@photo[:width] * scale),
              height: svg.n(@photo[:height] * scale)
            )
          end
          straight.each { |a, b| svg.line(*at(a), *at(b), class: "straight") }
          own.each { |a, b| svg.line(*at(a), *at(b), class: "own-line") }
          points.each { |point| svg.circle(*at(point), 7, class: "placed") }
        end
      end

      private

      def points = @alignment.points.values

      # what the wearer's own points make
      def own
        return points.first(2), points.last(2) if @alignment.line.key == "trunk"

        points.each_cons(2).to_a
      end

      # what would be straight
      def straight
        return points.each_slice(2).map { |a, b| level(a, b) } if @alignment.line.key == "trunk"

        [[points.first, points.last]]
      end

      # a level line through the middle of two points
      def level(a, b)
        y = (a.last + b.last) / 2
        [[a.first, y], [b.first, y]]
      end

      def corners = @photo ? [[0, 0], [@photo[:width], @photo[:height]]] : points
      def lows = corners.transpose.map(&:min)
      def highs = corners.transpose.map(&:max)
      def spans = highs.zip(lows).map { |high, low| [high - low, 1].max }
      def scale = @scale ||= (FRAME - (2 * EDGE)) / spans.max.to_f
      def width = [(spans.first * scale) + (2 * EDGE), 160].max.round
      def height = ((spans.last * scale) + (2 * EDGE)).round

      # the points' middle lies in the picture's middle
      def at((x, y))
        [
          (width / 2.0) + ((x - ((lows.first + highs.first) / 2.0)) * scale),
          EDGE + ((y - lows.last) * scale)
        ]
      end
    end
  end
end

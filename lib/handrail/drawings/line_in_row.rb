# frozen_string_literal: true

module Handrail
  module Drawings
    # A leg or a heel small, to stand in a row beside the other side's and the earlier ones': the limb about the
    # placed points, a plumb line through the lowest, and the wearer's own line. The tone of the own line comes by
    # class from whoever draws it; the figure and its word stand below it, so that no colour alone says it.
    class LineInRow
      HEIGHT = { "leg" => 300, "heel" => 120 }.freeze
      EDGE = 8
      # half the limb's width at each point, in parts of a hundred of the line's length: for looks only
      WIDTHS = { "leg" => [13, 8, 6], "heel" => [17, 12, 16] }.freeze

      # alignment - a Fitting::Alignment of a leg or heel; words - what it says; tone - a class, or nil
      def initialize(alignment, words:, tone: nil)
        @key = alignment.line.key
        @points = alignment.points.values
        @words = words
        @tone = tone
      end

      def to_s
        SVG.draw(width.round, height, label: @words, class: "line-in-row is-#{@key}") do |svg|
          svg.path(outline(svg), class: "limb")
          plumb = at(@points.last).first
          svg.line(plumb, 0, plumb, height, class: "plumb")
          svg.path(svg.trace(placed), class: ["own-line", @tone].compact.join(" "))
          placed.each { |x, y| svg.circle(x, y, 3, class: "placed") }
        end
      end

      private

      def height = HEIGHT.fetch(@key)
      def placed = @points.map { |point| at(point) }
      def tall = [@points.last.last - @points.first.last, 1].max
      def scale = (height - (2 * EDGE)) / tall.to_f
      def halves = WIDTHS.fetch(@key).map { |part| part * (height - (2 * EDGE)) / 100.0 }
      def reach = halves.max + 6
      def lows = @points.map(&:first).min
      def width = ((@points.map(&:first).max - lows) * scale) + (2 * reach)
      def at((x, y)) = [reach + ((x - lows) * scale), EDGE + ((y - @points.first.last) * scale)]

      # down one side, round the lowest point and up the other
      def outline(svg)
        left, right =
          [-1, 1].map { |way| placed.zip(halves).map { |(x, y), half| [x + (way * half), y] } }
        below = [placed.last.first, placed.last.last + EDGE]
        curves = [bent(*left), [below, right.last], bent(*right.reverse)]
        said =
          curves.map { |points| "Q#{points.map { |x, y| "#{svg.n(x)} #{svg.n(y)}" }.join(" ")}" }
        "M#{svg.n(left.first.first)} #{svg.n(left.first.last)} #{said.join(" ")}"
      end

      # a curve from a to c that passes through b, as its control and its end
      def bent(a, b, c) =
        [b.zip(a, c).map { |through, from, to| (2 * through) - ((from + to) / 2) }, c]
    end
  end
end

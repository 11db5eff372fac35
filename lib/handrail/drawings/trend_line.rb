# frozen_string_literal: true

module Handrail
  module Drawings
    # Readings over time with their line, the band of the line, and the band of the size that is
    # worn.
    class TrendLine
      WIDTH = 380
      HEIGHT = 170
      LEFT = 52
      RIGHT = 368
      TOP = 12
      FOOT = 138
      # how far ahead of the last reading the line is drawn, as a share of the time so far
      AHEAD = 0.5

      # points - [[Date, mm, sd in mm], ...]; trend - Followup::Trend; low, high - mm of the size
      # worn, or nil; tape - Quantity::Tape for the figures of the edges; label - in words; said - called
      # with a value, how it is written beside the first and the last point, or nil
      def initialize(points, trend, label:, tape: nil, low: nil, high: nil, said: nil)
        @points = points.map { |date, mm, sd| [date, mm.to_f, sd.to_f] }.sort_by(&:first)
        @trend = trend
        @edges = [low, high].compact.map(&:to_f)
        @tape = tape
        @label = label
        @said = said
        @from = @points.first.first
        @to = @points.last.first + [(@points.last.first - @from) * AHEAD, 7].max.to_i
        values = @points.flat_map { |_, mm, sd| [mm - (2 * sd), mm + (2 * sd)] }
        low, high = values.minmax
        near = @edges.grep((low - 25)..(high + 25))
        @low, @high = [*values, *near].minmax.then { |a, b| [a - room(a, b), b + room(a, b)] }
      end

      def to_s
        SVG.draw(WIDTH, HEIGHT, label: @label, class: "trend-line") do |svg|
          @svg = svg
          edges
          band
          line
          @points.each { |date, mm, sd| point(date, mm, sd) }
          figures if @said
          days
        end
      end

      private

      attr_reader :svg

      def x(date) = LEFT + ((date - @from).to_f / (@to - @from) * (RIGHT - LEFT))
      def y(value) = FOOT - ((value.to_f.clamp(@low, @high) - @low) / (@high - @low) * (FOOT - TOP))
      def dates = (0..20).map { |i| @from + ((@to - @from) * i / 20) }

      # free above and below: 4 mm of a girth, a part of the height of what is no length
      def room(low, high) = @said ? [(high - low) * 0.25, 0.5].max : 4

      # the first and the last value, in words
      def figures
        [@points.first, @points.last].uniq.each do |date, value, _|
          svg.text(x(date) + 8, [y(value) - 9, TOP + 6].max, @said.call(value), class: "said")
        end
      end

      def edges
        @edges
          .grep(@low..@high)
          .each do |edge|
            svg.line(LEFT, y(edge), RIGHT, y(edge), class: "edge")
            svg.text(4, y(edge) + 5, Quantity::Length.mm(edge.round(1)).on(@tape), class: "said")
          end
      end

      def band
        upper = dates.map { |date| [x(date), y(@trend.band(date).last)] }
        lower = dates.reverse.map { |date| [x(date), y(@trend.band(date).first)] }
        svg.path(svg.trace(upper + lower, close: true), class: "doubt")
      end

      def line = svg.line(x(@from), y(@trend.at(@from)), x(@to), y(@trend.at(@to)), class: "course")

      def point(date, value, deviation)
        svg.line(
          x(date),
          y(value - (2 * deviation)),
          x(date),
          y(value + (2 * deviation)),
          class: "bar"
        )
        svg.circle(x(date), y(value), 4.5, class: "read")
      end

      def days
        { @from => "start", @points.last.first => "middle" }.each do |date, anchor|
          svg.text(
            x(date),
            FOOT + 22,
            date.strftime("%-d %b %Y"),
            class: "said",
            "text-anchor": anchor
          )
        end
      end
    end
  end
end

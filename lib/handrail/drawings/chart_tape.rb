# frozen_string_literal: true

module Handrail
  module Drawings
    # The bands of a chart at one site as a run of tape, with a grip on each edge that can be pulled
    # or moved with the arrow keys.
    class ChartTape
      WIDTH = 640
      LEFT = 20
      RIGHT = 620

      # rows - [[Sizing::Chart::Row, line number in the editor], ...] of one part and site; grips -
      # false where it is only to be looked at.
      def initialize(rows, grips: true)
        @rows = rows
        @grips = grips
        @unit = rows.first.first.unit == "in" ? "in" : "cm"
        ends = rows.flat_map { |row, _| [row.min, row.max] }
        give = [(ends.max - ends.min).to_f * 0.08, 10].max
        @low = ends.min.to_f - give
        @high = ends.max.to_f + give
      end

      def to_s
        height = 64 + (lanes.max.to_i * 26) + 30
        SVG.draw(
          WIDTH,
          height,
          label: label,
          role: @grips ? "group" : "img",
          class: "chart-tape",
          "data-low": @low.round(2),
          "data-high": @high.round(2),
          "data-left": LEFT,
          "data-right": RIGHT,
          "data-unit": @unit
        ) do |svg|
          @svg = svg
          svg.text(
            LEFT - 8,
            14,
            Anatomy::Vocabulary.default[@rows.first.first.site]&.name || @rows.first.first.site,
            class: "tape-name"
          )
          svg.rect(LEFT - 8, 22, RIGHT - LEFT + 16, 34, rx: 3, class: "tape-body")
          ticks
          @rows.each_with_index { |(row, line), i| band(row, line, 66 + (lanes[i] * 26)) }
        end
      end

      private

      def label
        "#{Sizing.site_name(@rows.first.first.site)}: #{
          @rows
            .map do |row, _|
              [row.min, row.max].map { |mm| Quantity::Length.mm(mm).plain(row.unit) }
                .join(" to ")
                .prepend(row.size, " ")
            end
            .join(", ")
        }"
      end

      def x(mm) = LEFT + ((mm.to_f - @low) / (@high - @low) * (RIGHT - LEFT))

      # bands that overlap stand below each other
      def lanes
        @lanes ||=
          begin
            ends = []
            @rows.map do |row, _|
              lane = ends.index { |max| max < row.min } || ends.size
              ends[lane] = [row.max, row.min].max
              [lane, 3].min
            end
          end
      end

      def ticks
        per = Quantity::Length::MM_PER[@unit].to_f
        step = SizeTape::STEPS[@unit].find { |s| (@high - @low) / per / s <= 14 } || 20
        ((@low / per / step).ceil..(@high / per / step).floor).each do |i|
          at = x(i * step * per)
          @svg.line(at, 22, at, 36, class: "tick")
          @svg.text(
            at,
            51,
            (
              if @unit == "in"
                Quantity::Tape.mixed(Rational((i * step).to_s))
              else
                format("%g", i * step)
              end
            ),
            class: "tick-figure",
            "text-anchor": "middle"
          )
        end
      end

      def band(row, line, y)
        reversed = row.min > row.max
        left, right = [x(row.min), x(row.max)].minmax
        @svg.path(
          "M#{@svg.n(left)} #{y} V#{y + 9} H#{@svg.n(right)} V#{y}",
          class: reversed ? "segment is-wrong" : "segment"
        )
        @svg.text((left + right) / 2, y + 23, row.size, class: "size-name", "text-anchor": "middle")
        return unless @grips

        grip(row, line, "min", row.min, y)
        grip(row, line, "max", row.max, y)
      end

      def grip(row, line, edge, mm, y)
        @svg.element(
          :circle,
          cx: @svg.n(x(mm)),
          cy: y + 4,
          r: 7,
          class: "grip",
          tabindex: 0,
          role: "slider",
          "data-line": line,
          "data-edge": edge,
          "aria-label": "#{row.size} #{edge}",
          "aria-valuenow": mm.to_f.round(1),
          "aria-valuemin": @low.round,
          "aria-valuemax": @high.round,
          "aria-valuetext": Quantity::Length.mm(mm).plain(row.unit)
        )
      end
    end
  end
end

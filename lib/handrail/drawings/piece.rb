# frozen_string_literal: true

module Handrail
  module Drawings
    # A computed piece to scale: on the screen as wide as it is given, on paper in millimetres with
    # a ruler that proves the scale.
    class Piece
      # room round the piece for figures, in mm of the piece
      SCALES = [1, 2, 4, 5, 8, 10].freeze
      PAPER = 170
      # the ruler with its end, and the longest figure beside a piece, in mm on the paper
      RULER = 103
      LETTERS = 20
      # and what a figure above or below it takes
      ABOVE = 12
      # px on the screen
      TALLEST = 500.0
      SPOKEN = %i[dim label].freeze

      # piece - Sizing::Piece; width - px on the screen, or nil for paper.
      def initialize(piece, label:, width: nil)
        @piece = piece
        @label = label
        @px = width
        @scale = @px ? nil : SCALES.find { |scale| across(scale) / scale <= PAPER } || 20
      end

      attr_reader :scale

      # what it takes on paper, in mm
      def width_on_paper = box.first / @scale.to_f
      def height_on_paper = box.last / @scale.to_f

      def to_s
        factor = @px ? [@px / box[0], TALLEST / box[1]].min : 1.0 / @scale
        @text = @px ? 13 / factor : 3.4 * @scale
        @svg = SVG.new
        @piece.shapes.each { |shape| send(*shape) }
        ruler unless @px
        "<svg xmlns=\"http://www.w3.org/2000/svg\"#{@svg.attributes(frame(box, factor))}>#{@svg}</svg>"
      end

      private

      # width and height with what stands round it, in mm of the piece
      def box
        return @piece.width + (2 * beside), @piece.height + (2 * above) if @px

        [across(@scale), @piece.height + (2 * above) + ruler_room]
      end

      # how wide it is at a scale, its figures and the ruler with it
      def across(scale) = [@piece.width + (2 * beside(scale)), beside(scale) + (RULER * scale)].max

      # px on the screen, real millimetres on paper
      def frame(box, factor)
        size = box.map { |mm| @px ? (mm * factor).round.to_s : "#{(mm / @scale).round(2)}mm" }
        {
          viewBox: [-beside, -above, *box].map { |n| n.round(2) }.join(" "),
          role: "img",
          "aria-label": spoken,
          class: "piece",
          "font-size": @text.round(2),
          width: size[0],
          height: size[1]
        }
      end

      # room for the figures on both sides: on paper as much as their letters take
      def beside(scale = @scale) = [@piece.width * 0.24, 8, scale ? LETTERS * scale : 0].max
      def above = [@piece.height * 0.07, @piece.width * 0.12, 8, (@scale || 0) * ABOVE].max
      def ruler_room = 14 * @scale

      def spoken
        "#{@label}: #{@piece.shapes.filter_map { |kind, *rest| rest.last if SPOKEN.include?(kind) }.join(", ")}"
      end

      def outline(points) = @svg.path(@svg.trace(points, close: true), class: "piece-edge")
      # the wearer's limb behind a piece
      def limb(points) = @svg.path(@svg.trace(points), class: "piece-limb")
      # a strip of metal along some points
      def strip(points) = @svg.path(@svg.trace(points), class: "piece-strip")

      # a band round the limb at a level
      def cuff(left, right, y, height)
        @svg.rect(
          left - 4,
          y - (height / 2.0),
          right - left + 8,
          height,
          class: "piece-cuff",
          rx: 8
        )
      end

      def fold(x1, y1, x2, y2) = @svg.line(x1, y1, x2, y2, class: "piece-fold")
      def cut(x1, y1, x2, y2) = @svg.line(x1, y1, x2, y2, class: "piece-cut")
      def hole(x, y, diameter) = @svg.circle(x, y, diameter / 2.0, class: "piece-hole")
      def ring(x, y, diameter) = @svg.circle(x, y, diameter / 2.0, class: "piece-edge")
      def label(x, y, text) = @svg.text(x, y, text, class: "piece-text")

      def mark(x, y, text)
        @svg.circle(x, y - (@text * 0.35), @text * 0.8, class: "piece-mark")
        @svg.text(x, y, text, class: "piece-text is-mark", "text-anchor": "middle")
      end

      # degrees from the front (top), clockwise
      def arc(x, y, radius, from, to)
        points =
          (from.to_i..to.to_i)
            .step(5)
            .map do |d|
              t = d * Math::PI / 180
              [x + (radius * Math.sin(t)), y - (radius * Math.cos(t))]
            end
        @svg.path(@svg.trace(points), class: "piece-strap")
        @svg.circle(*points.last, @text * 0.35, class: "piece-end")
      end

      def dim(x1, y1, x2, y2, text)
        @svg.line(x1, y1, x2, y2, class: "piece-dim")
        across = (x2 - x1).abs > (y2 - y1).abs
        tick = @text * 0.5
        [[x1, y1], [x2, y2]].each do |x, y|
          if across
            @svg.line(x, y - tick, x, y + tick, class: "piece-dim")
          else
            @svg.line(x - tick, y, x + tick, y, class: "piece-dim")
          end
        end
        if across
          @svg.text(
            (x1 + x2) / 2.0,
            y1 + (y1.negative? ? -@text * 0.6 : @text * 1.25),
            text,
            class: "piece-text is-dim",
            "text-anchor": "middle"
          )
        else
          @svg.text(
            x1 + (x1.negative? ? -tick * 1.4 : tick * 1.4),
            (y1 + y2) / 2.0,
            text,
            class: "piece-text is-dim",
            "text-anchor": x1.negative? ? "end" : "start"
          )
        end
      end

      # 10 cm on paper, whatever the scale
      def ruler
        y = @piece.height + above + (6 * @scale)
        (0..10).each do |cm|
          @svg.line(
            cm * 10 * @scale,
            y,
            cm * 10 * @scale,
            y - (((cm % 5).zero? ? 4 : 2.5) * @scale),
            class: "piece-dim"
          )
        end
        @svg.line(0, y, 100 * @scale, y, class: "piece-dim")
        @svg.text(
          0,
          y + (5 * @scale),
          "10 cm on this paper. Scale 1 : #{@scale}.",
          class: "piece-text"
        )
      end
    end
  end
end

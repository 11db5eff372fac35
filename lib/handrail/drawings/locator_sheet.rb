# frozen_string_literal: true

module Handrail
  module Drawings
    # A locator sheet at its own size: laid on the leg, notch on the tuberosity, the outlines show
    # where the electrodes go. A ruler in mm and inches proves the scale; poles are said by sign,
    # letter and shape, never by colour alone.
    class LocatorSheet
      # room round the outlines, and for the rulers, in mm
      ROOM = 14
      RULERS = 34
      # the longer ruler, in mm, and the shorter one, in inches
      MILLIMETRES = 100
      INCHES = 4
      LINE = { fill: "none", stroke: "#22303c", "stroke-width": 0.5 }.freeze
      THIN = { fill: "none", stroke: "#22303c", "stroke-width": 0.25 }.freeze
      private_constant :LINE, :THIN

      # locator - a Fitting::Locator; label - for a screen reader; side
      def initialize(locator, label:, side: nil)
        @locator = locator
        @label = label
        @side = side
        left, top, right, bottom = locator.frame
        @left = [left - ROOM, (-MILLIMETRES / 2) - 6].min
        @top = top - ROOM
        @width = [right + ROOM, (MILLIMETRES / 2) + 6].max - @left
        @height = bottom + ROOM + RULERS - @top
      end

      # mm
      attr_reader :width, :height

      def to_s
        @svg = SVG.new
        axes
        @locator.electrodes.each { |one| electrode(one) }
        rulers
        attrs = {
          viewBox: [@left, @top, width, height].map { |n| @svg.n(n) }.join(" "),
          width: "#{@svg.n(width)}mm",
          height: "#{@svg.n(height)}mm",
          role: "img",
          "aria-label": @label,
          class: "locator"
        }
        "<svg xmlns=\"http://www.w3.org/2000/svg\"#{@svg.attributes(attrs)}>#{@svg}</svg>"
      end

      private

      # the midline of the leg and the notch
      def axes
        low = @locator.frame.last + ROOM - 4
        @svg.line(0, @top + 2, 0, low, **THIN, "stroke-dasharray": "3 2")
        @svg.path("M-6 -5 L0 0 L6 -5", **LINE)
        text(8, -2, "notch: #{@locator.notch}", 3.4)
        text(1.5, low - 1, "midline", 3)
      end

      def electrode(one)
        outline(one)
        pole(one)
        lead(one)
        below = one.box[3] + (one.lead == "down" ? 13 : 5)
        text(one.x, below, one.label, 3.6, middle: true)
        text(
          one.x,
          below + 4.4,
          "#{@svg.n(one.x.abs)} across, #{@svg.n(one.y)} down",
          3,
          middle: true
        )
      end

      # a plus is ringed, a minus boxed: what a copy without colour still tells
      def pole(one)
        plus = one.pole == "plus"
        text(one.x, one.y + 1, plus ? "+" : "−", 9, middle: true)
        text(one.x, one.y + 9.5, plus ? "P" : "N", 4, middle: true)
        return @svg.circle(one.x, one.y - 1.6, 6, **THIN) if plus

        @svg.rect(one.x - 6, one.y - 7.6, 12, 12, **THIN)
      end

      # an arrow where the lead leaves it
      def lead(one)
        up = one.lead == "up"
        y = up ? one.box[1] : one.box[3]
        way = up ? -1 : 1
        @svg.path(
          "M#{@svg.n(one.x)} #{@svg.n(y)} l0 #{8 * way} m-2 #{-3 * way} l2 #{3 * way} l2 #{-3 * way}",
          **LINE
        )
      end

      def outline(one)
        case one.kind
        when :square
          @svg.rect(one.box[0], one.box[1], one.width, one.height, rx: 3, **LINE)
        else
          @svg.element(
            :ellipse,
            cx: @svg.n(one.x),
            cy: @svg.n(one.y),
            rx: @svg.n(one.width / 2.0),
            ry: @svg.n(one.height / 2.0),
            **LINE
          )
        end
      end

      def rulers
        base = @locator.frame.last + ROOM + 8
        from = -MILLIMETRES / 2.0
        ruler(from, base, MILLIMETRES, 10, 1, "#{MILLIMETRES} mm")
        ruler(from, base + 14, INCHES * 25.4, 25.4, 25.4 / 8, "#{INCHES} in")
      end

      def ruler(from, y, length, large, small, words)
        @svg.line(from, y, from + length, y, **LINE, class: "ruler")
        (0..(length / small).round).each do |i|
          at = i * small
          tall = ((at / large) - (at / large).round).abs < 1e-6 ? 4 : 1.8
          x = (from + at).round(3)
          @svg.element(:line, x1: x, y1: @svg.n(y), x2: x, y2: @svg.n(y - tall), **THIN)
        end
        text(from + length + 2, y, words, 3.6)
      end

      def text(x, y, words, size, middle: false)
        @svg.text(
          x,
          y,
          words,
          "font-size": size,
          fill: "#22303c",
          "text-anchor": middle ? "middle" : "start"
        )
      end
    end
  end
end

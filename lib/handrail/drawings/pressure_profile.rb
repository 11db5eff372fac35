# frozen_string_literal: true

module Handrail
  module Drawings
    # What each strap of a wrap presses, the lowest at the foot of the picture: a dot in the band of
    # its target, and an arrow where it is to be eased or pulled.
    class PressureProfile
      WIDTH = 380
      ROW = 34
      LEFT = 64
      RIGHT = 364
      TOP = 26
      MMHG = (0..70)

      # straps - Compression::FewestChanges::Straps from the lowest up; within - mmHg on either side
      # of a target
      def initialize(straps, within:)
        @straps = straps
        @within = within
      end

      def to_s
        SVG.draw(
          WIDTH,
          TOP + (@straps.size * ROW) + 26,
          label: label,
          class: "pressure-profile"
        ) do |svg|
          @svg = svg
          scale
          @straps.each { |strap| row(strap) }
        end
      end

      def label
        said =
          @straps.map do |strap|
            change = strap.set_to && ", #{strap.state} to #{strap.set_to.round}"
            "strap #{strap.number} #{strap.pressure.round} mmHg#{change}"
          end
        "Pressure under the straps: #{said.join("; ")}"
      end

      private

      attr_reader :svg

      def x(mmhg) =
        LEFT +
          (
            (mmhg.to_f.clamp(MMHG.min, MMHG.max) - MMHG.min) * (RIGHT - LEFT) /
              (MMHG.max - MMHG.min)
          )
      def y(strap) = TOP + ((@straps.size - 1 - @straps.index(strap)) * ROW) + (ROW / 2)

      def scale
        foot = TOP + (@straps.size * ROW)
        MMHG.step(10) do |mmhg|
          svg.line(x(mmhg), TOP, x(mmhg), foot, class: "grid")
          svg.text(x(mmhg), foot + 18, mmhg, class: "tick-figure", "text-anchor": "middle")
        end
        svg.text(RIGHT, 14, "mmHg", class: "said", "text-anchor": "end")
      end

      def row(strap)
        at = y(strap)
        left, right = [-1, 1].map { |sign| x(strap.target + (sign * @within)) }
        svg.text(4, at + 5, "strap #{strap.number}", class: "said")
        svg.rect(left, at - 11, right - left, 22, rx: 3, class: "band")
        arrow(strap, at) if strap.set_to
        svg.circle(x(strap.pressure), at, 7, class: strap.set_to ? "read is-off" : "read")
      end

      def arrow(strap, at)
        from, to = [strap.pressure, strap.set_to].map { |mmhg| x(mmhg) }
        tip = to > from ? -7 : 7
        svg.path(
          "M#{svg.n(from)} #{at} L#{svg.n(to)} #{at} M#{svg.n(to + tip)} #{at - 5} L#{svg.n(to)} #{at} " \
            "L#{svg.n(to + tip)} #{at + 5}",
          class: "change"
        )
      end
    end
  end
end

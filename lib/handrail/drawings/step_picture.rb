# frozen_string_literal: true

module Handrail
  module Drawings
    # One step of putting a device on or taking it off, for the wearer: their own figure and device, pale, and
    # strong only what this step touches. A posture, a shoe or a hand is a small drawing of its own.
    #
    #   StepPicture.new(figure, shows: "strap", device: device, profile: profile, label: "Strap 2").to_s
    #
    # Square, 200 units wide; no words stand in it, so that it is the same in every language.
    class StepPicture < Figure
      SIZE = 200
      # half of what is seen, in px of the figure
      NEAR = 112
      # how far a device is moved aside for its marks, as a share of what is seen; a line of them
      BESIDE = 0.45
      LINE_HIGH = 17
      # what a step may show
      ON_BODY = %w[strap device open on off up down hinge whole skin ring marks].freeze
      KINDS = (ON_BODY + Pictograms::ALL).freeze

      # shows - one of KINDS; at - levels in mm or names of the figure's points that are ringed; label - what it
      # says to who can not see it; the rest as Figure takes it: of its device's straps the one that is active is
      # pulled
      def initialize(figure, shows:, label:, at: [], **how)
        super(figure, **how)
        @shows = shows
        @at = at
        @said = label
      end

      def key = [super, @shows, @at, @said]
      def label = @said

      def to_s
        SVG.draw(SIZE, SIZE, label: label, class: "step-picture") do |svg|
          ON_BODY.include?(@shows) ? on_body(svg) : Pictograms.draw(@shows, svg)
        end
      end

      private

      def on_body(svg)
        @svg = svg
        cx, cy, half = frame
        factor = SIZE / (2.0 * half)
        turned =
          "translate(#{svg.n(100 - (cx * factor))} #{svg.n(100 - (cy * factor))}) scale(#{factor.round(3)})"
        svg.group(transform: turned, class: "figure") do
          outline
          decor
          worn if @device
        end
        send(:"#{@shows}_over") if respond_to?(:"#{@shows}_over", true)
      end

      # [centre x, centre y, half width] of what is seen, in the figure's own px
      def frame
        levels = focus
        return x(0), HEIGHT / 2.0, HEIGHT / 2.0 if levels.empty? || @figure.outline

        middle = levels.sum / levels.size
        spread = (levels.max - levels.min) * @figure.scale * @grown[1] / 2.0
        # what is wide is seen from further off
        wide = edges(middle).map { |edge| (x(edge) - x(0)).abs }.max + 52
        half = [NEAR, spread + 40, wide].max
        # marks stand beside the device
        aside = @shows == "marks" ? half * BESIDE : 0
        [x(@figure.axis(middle)) + aside, y(middle), half]
      end

      # levels that are looked at
      def focus
        case @shows
        when "strap"
          active ? [active.level] : []
        when "hinge"
          [@device&.hinge].compact
        when "skin", "ring"
          rings.map(&:last)
        when "whole"
          []
        when "marks"
          @device.straps.map(&:level)
        else
          if @device
            @device.shells.flatten + (@device.shells.empty? ? @device.straps.map(&:level) : [])
          else
            []
          end
        end
      end

      def active = @device&.straps.to_a.find { |strap| strap.state == :active }

      # [x, level] of each ring
      def rings
        @at.filter_map do |one|
          next @figure.axis(one), one if one.is_a?(Numeric)

          place(@figure.points[one] || @figure.landmarks.fetch(one)) if known?(one)
        end
      end

      def known?(name) = @figure.points.key?(name) || @figure.landmarks.key?(name)

      # pale, but for what this step touches
      def worn
        strong = %w[device on off up down open].include?(@shows)
        return if @shows == "skin"

        look = strong ? "is-strong" : "is-pale"
        @device.shells.each { |low, high| shell(low, high, look: "shell #{look}") }
        upright_seen(strong) if @device.upright && @device.hinge
        @device.straps.each { |strap| step_strap(strap) }
      end

      def upright_seen(strong)
        level = @shows == "hinge"
        hinged(look: strong || level ? "is-strong" : "is-pale", radius: level ? 12 : 8)
      end

      # closed before, pulled now, still open
      def step_strap(strap)
        state = @shows == "open" ? :waiting : strap.state
        svg.path(arc(strap.level, 5, 5), class: "strap is-#{state}")
      end

      # --- over the figure, in the picture's own 200 units ---

      def spot(px, py)
        cx, cy, half = frame
        factor = SIZE / (2.0 * half)
        [100 + ((px - cx) * factor), 100 + ((py - cy) * factor)]
      end

      # from where the strap ends, the way it is pulled
      def strap_over
        return unless active

        end_x = edges(active.level, 5).map { |edge| x(edge) }.max
        px, py = spot(end_x, y(active.level))
        px = px.clamp(20, 150)
        Pictograms.arrow(svg, [196, py], [px + 10, py])
      end

      def hinge_over
        return unless @device&.hinge

        _, py = spot(0, y(@device.hinge))
        svg.line(8, py, 192, py, class: "step-sight")
      end

      def on_over
        Pictograms.arrow(svg, [6, 100], [42, 100])
        Pictograms.arrow(svg, [194, 100], [158, 100])
      end

      def off_over
        Pictograms.arrow(svg, [42, 100], [6, 100])
        Pictograms.arrow(svg, [158, 100], [194, 100])
      end

      alias open_over off_over

      def up_over = Pictograms.arrow(svg, [178, 150], [178, 50])
      def down_over = Pictograms.arrow(svg, [178, 50], [178, 150])
      def device_over = Pictograms.arrow(svg, [18, 120], [18, 60])

      def ring_over
        rings.each do |place|
          px, py = spot(*at(place))
          svg.circle(px.clamp(30, 170), py.clamp(30, 170), 24, class: "step-ring")
        end
      end

      alias skin_over ring_over

      # to what each strap is pulled, beside it
      def marks_over
        last = 0
        marked = @device.straps.select(&:mark).map { |strap| [strap, spot(0, y(strap.level)).last] }
        marked
          .sort_by(&:last)
          .each do |strap, py|
            ex, = spot(edges(strap.level, 5).map { |edge| x(edge) }.max, 0)
            top = [py, last + LINE_HIGH].max
            last = top
            svg.line(ex + 6, py, 124, top, class: "step-leader")
            svg.text(128, top + 5, strap.mark, class: "step-mark")
          end
      end
    end
  end
end

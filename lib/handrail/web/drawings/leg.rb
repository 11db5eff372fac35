# frozen_string_literal: true

module Handrail
  module Web
    module Drawings
      # A leg from the front, drawn from the wearer's profile: the half width at a level is its girth over 2 pi, on an axis that leans
      # outward above the knee; the calf is a little fuller on the inside. A left leg has its inner side on the viewer's left.
      class Leg
        WIDTH = 380
        HEIGHT = 540
        TOP = 12
        FLOOR = 505
        CENTRE = 168
        SCALE = 0.58
        STRETCH = 1.1
        KNEE = 435

        # A tape line: level in mm; state - :active, :done or :waiting.
        Tape = Value.new(:level, :name, :value, :state)
        # A strap: number, level, state - :done, :active or :waiting.
        Strap = Value.new(:number, :level, :state)
        # A device on the leg: shells as [low, high] in mm, upright - "outer" or "inner", hinge - level, straps.
        Device = Value.new(:shells, :upright, :hinge, :straps, :hinge_name)

        # profile - Anatomy::Profile; side - "left" or "right"; bracket - an Anatomy::Site whose level is counted from the knee, or nil.
        def initialize(profile, side:, tapes: [], bracket: nil, device: nil, then_tapes: [])
          @profile = profile
          @outer = side == "right" ? -1 : 1
          @side = side
          @tapes = tapes
          @bracket = bracket
          @device = device
          @then_tapes = then_tapes
        end

        def to_s
          SVG.draw(WIDTH, HEIGHT, label: label, class: "figure") do |svg|
            @svg = svg
            outline
            landmarks
            device if @device
            @tapes.each { |tape| tape_line(tape) }
            labels
            bracket if @bracket
            captions
          end
        end

        private

        attr_reader :svg

        def label
          read = @tapes.select(&:value).map { |tape| "#{tape.name} #{tape.value}" }
          "#{Format.capital(@side.to_s)} leg from the front#{": #{read.join(', ')}" if read.any?}"
        end

        def y(level) = FLOOR - (level * SCALE)

        # where the axis of the leg lies at a level
        def axis(level) = CENTRE + (@outer * [level - KNEE, 0].max * 0.055 * SCALE)

        # the edges at a level, [viewer's left, viewer's right]; give - how far outside the skin, in mm
        def edges(level, give = 0)
          radius = (@profile.girth(level) / (2 * Math::PI)) + give
          fuller = 0.07 * Math.exp(-(((level - 310) / 70.0)**2))
          inner = radius * (1 + fuller) * SCALE * STRETCH
          outer = radius * (1 - fuller) * SCALE * STRETCH
          @outer.positive? ? [axis(level) - inner, axis(level) + outer] : [axis(level) - outer, axis(level) + inner]
        end

        def outline
          levels = (75..840).step(5).to_a
          left = levels.reverse.map { |level| [edges(level).first, y(level)] }
          right = levels.map { |level| [edges(level).last, y(level)] }
          svg.path("#{svg.trace(left)} #{foot} #{right.map { |x, at| "L#{svg.n(x)} #{svg.n(at)}" }.join(' ')}", class: "skin")
        end

        # from the left ankle edge round the foot to the right one
        def foot
          (left, right) = edges(75)
          flare = ->(side, mm) { side + (((side == left ? -1 : 1) * mm) * SCALE) }
          toe, heel = @outer.positive? ? [right, left] : [left, right]
          in_order = [[heel, 4, 12, 8], [toe, 20, 52, 56]]
          in_order.reverse! if @outer.negative?
          (a, a1, a2, a3), (b, b1, b2, b3) = in_order
          "C#{pt(flare[a, a1],
                 50)} #{pt(flare[a, a2],
                           34)} #{pt(flare[a, a3], 14)} C#{pt(flare[a, a3 - 4], 2)} #{pt(flare[a, a3 - 18], -2)} #{pt(flare[a, a3 - 30], -2)} " \
            "L#{pt(flare[b, b3 - 30],
                   -2)} C#{pt(flare[b, b3 - 10],
                              -2)} #{pt(flare[b, b3],
                                        4)} #{pt(flare[b, b2], 20)} C#{pt(flare[b, b2 - 14], 44)} #{pt(flare[b, b1 - 14], 56)} #{pt(b, 75)}"
        end

        def pt(x, level) = "#{svg.n(x)} #{svg.n(y(level))}"

        def landmarks
          x = axis(KNEE)
          svg.element(:ellipse, cx: svg.n(x), cy: svg.n(y(KNEE)), rx: 15, ry: 18, class: "bone")
          svg.circle(x, y(KNEE), 3, class: "landmark")
          svg.path("M#{pt(x - 9, 375)} Q#{pt(x, 367)} #{pt(x + 9, 375)}", class: "bone")
          left, right = edges(88)
          svg.path("M#{pt(left + 5, 98)} Q#{pt(left + 1, 90)} #{pt(left + 5, 82)}", class: "bone")
          svg.path("M#{pt(right - 5, 94)} Q#{pt(right - 1, 86)} #{pt(right - 5, 78)}", class: "bone")
        end

        # an arc across the front of the leg
        def arc(level, give = 0, sag = 7)
          left, right = edges(level, give)
          "M#{pt(left, level)} Q#{svg.n((left + right) / 2)} #{svg.n(y(level) + (sag * 2))} #{pt(right, level)}"
        end

        def tape_line(tape)
          case tape.state
          when :active
            svg.path(arc(tape.level, 1), class: "tape-edge")
            svg.path(arc(tape.level, 1), class: "tape-on")
            svg.path(arc(tape.level, 1), class: "tape-ticks")
          when :done then svg.path(arc(tape.level), class: "tape-done")
          else svg.path(arc(tape.level), class: "tape-waiting")
          end
        end

        def labels
          @tapes.each do |tape|
            x = edges(tape.level).last
            svg.line(x + 4, y(tape.level), 262, y(tape.level), class: "leader")
            svg.text(266, y(tape.level) - 4, tape.name, class: tape.state == :active ? "said is-on" : "said")
            svg.text(266, y(tape.level) + 14, tape.value || "–", class: tape.state == :active ? "value is-on" : "value")
          end
        end

        # the distance from mid patella to the level being read
        def bracket
          top, bottom = [KNEE, @bracket.level.mm.to_f].minmax.reverse
          x = 58
          svg.line(x + 8, y(KNEE), axis(KNEE) - 6, y(KNEE), class: "sight")
          [top, bottom].each { |level| svg.line(x - 8, y(level), x + 8, y(level), class: "bracket") }
          svg.line(x, y(top), x, y(bottom), class: "bracket")
          svg.text(x - 8, y(KNEE) + (@bracket.level.mm.to_f > KNEE ? 16 : -8), @bracket.from, class: "said is-pine", "text-anchor": "middle")
          svg.text(x - 8, (y(top) + y(bottom)) / 2, Quantity::Length.mm(@bracket.offset.mm.abs).plain("cm"), class: "said is-pine",
                                                                                                             "text-anchor": "end")
        end

        def device
          @device.shells.each { |low, high| shell(low, high) }
          upright
          @device.straps.each { |strap| strap_line(strap) }
        end

        def shell(low, high)
          levels = (low.to_i..high.to_i).step(5).to_a
          left = levels.reverse.map { |level| [edges(level, 5).first, y(level)] }
          right = levels.map { |level| [edges(level, 5).last, y(level)] }
          svg.path(svg.trace(left + right, close: true), class: "shell")
        end

        def upright
          right_side = (@device.upright == "outer") == @outer.positive?
          pick = ->(level) { edges(level, 7).then { |left, right| right_side ? right : left } }
          low = @device.shells.map(&:first).min + 20
          high = @device.shells.map(&:last).max - 20
          svg.path(svg.trace([high, @device.hinge, low].map { |level| [pick[level], y(level)] }), class: "upright")
          svg.circle(pick[@device.hinge], y(@device.hinge), 8, class: "hinge")
          svg.line(66, y(@device.hinge), pick[@device.hinge] - 8, y(@device.hinge), class: "sight") unless @bracket
          svg.text(62, y(@device.hinge) + 4, "hinge", class: "said is-pine", "text-anchor": "end")
        end

        def strap_line(strap)
          svg.path(arc(strap.level, 5, 5), class: "strap is-#{strap.state}")
          x = [edges(strap.level, 5).last + 26, 228].max
          svg.circle(x, y(strap.level) + 2, 12, class: "strap-number is-#{strap.state}")
          svg.text(x, y(strap.level) + 7, strap.number, class: "strap-figure is-#{strap.state}", "text-anchor": "middle")
        end

        def captions
          left, right = @outer.positive? ? %w[inner outer] : %w[outer inner]
          svg.text(edges(75).first - 26, FLOOR + 22, left, class: "said is-pine", "text-anchor": "middle")
          svg.text(edges(75).last + 26, FLOOR + 22, right, class: "said is-pine", "text-anchor": "middle")
        end

        Format = Object.new.extend(Helpers::Format)
        private_constant :Format
      end
    end
  end
end

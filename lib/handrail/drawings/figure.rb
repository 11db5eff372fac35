# frozen_string_literal: true

module Handrail
  module Drawings
    # A part of the body drawn from the wearer's profile, with the tape lines of its readings at
    # their levels, the landmark of the one being read, and the device on it. A limb is drawn as the
    # left one and mirrored for the right.
    class Figure
      WIDTH = 380
      HEIGHT = 540
      # least distance between two labels, and how many letters of a name go on a line
      LABEL = 37
      LINE = 17
      # what stands above the highest level of a figure that is drawn small (toes, and some air)
      ROOM = 90

      # A reading on the figure. site - Anatomy::Site; value - printed or nil; state - :active,
      # :done or :waiting; expected - what it will probably be, in words, or nil.
      Tape = Value.new(:site, :name, :value, :state, :expected)
      # A strap: number, level, state - :done, :active or :waiting; mark - how far it is pulled, in words.
      Strap = Value.new(:number, :level, :state, :mark)
      # A point that somebody showed, in the picture's own frame, with what is said of it.
      Spot = Value.new(:x, :y, :words)
      # A device on the figure: shells as [low, high] in mm, upright - "outer", "inner" or nil,
      # hinge - level or nil, straps; opening - [mm along the skin to the wearer's left, level,
      # diameter] or nil, seams - mm along the skin to the wearer's left.
      Device = Value.new(:shells, :upright, :hinge, :straps, :opening, :seams)

      # how far from a level that was read the outline counts as read, in mm
      NEAR_READ = 45
      # where a step of the silhouette holds its left and right edge; how an unread edge is drawn
      EDGES = [1, 2].freeze
      UNREAD = %w[unread-under unread].freeze

      # figure - Anatomy::Figure; profile - the wearer's or nil; read - levels that were read (where
      # there are any, the outline far from them is what is expected, and dashed); side - "left",
      # "right" or nil; grown - [x, y] factors of a figure that follows lengths; centre - where its
      # centre line lies (px), slim - true where two stand side by side and labels have no room.
      def initialize(
        figure,
        profile: nil,
        read: nil,
        side: nil,
        tapes: [],
        bracket: nil,
        device: nil,
        grown: [1, 1],
        centre: nil,
        slim: false,
        spots: []
      )
        @figure = figure
        @profile = profile
        @read = read || []
        @mirror = (figure.mirrored? || figure.sided?) && side == "right" ? -1 : 1
        @side = side
        @tapes = tapes
        @bracket = bracket
        @device = device
        @grown = grown
        @slim = slim
        @spots = spots
        @centre = centre || figure.origin.first
        @squeeze = squeeze
        @across = @mirror * figure.scale * grown[0] * @squeeze
        @up = figure.scale * grown[1]
        @floor =
          (
            if slim
              [figure.origin.last, ROOM + (figure.to * figure.scale * grown[1])].min
            else
              figure.origin.last
            end
          )
      end

      # Everything that the drawing depends on: two of one key look the same.
      def key
        profile = @profile && [@profile.levels, @profile.girths]
        [
          @figure,
          @side,
          @centre,
          @slim,
          @grown,
          profile,
          @read,
          @bracket&.key,
          @device.inspect,
          @spots.map { |spot| [spot.x, spot.y, spot.words] },
          @tapes.map { |tape| [tape.site.key, tape.name, tape.value, tape.state, tape.expected] }
        ]
      end

      # Two limbs side by side as seen from the front, the right one on the viewer's left.
      def self.pair(left, right, label:)
        SVG.draw(WIDTH, HEIGHT, label: label, class: "figure") do |svg|
          [right, left].each { |figure| figure.draw(svg) }
        end
      end

      def to_s = SVG.draw(WIDTH, HEIGHT, label: label, class: "figure") { |svg| draw(svg) }

      def draw(svg)
        @svg = svg
        outline
        decor
        device if @device
        @tapes.sort_by { |tape| tape.state == :active ? 1 : 0 }.each { |tape| tape_line(tape) }
        labels
        landmarks
        bracket if @bracket
        words
        spots
      end

      def label
        read = @tapes.select(&:value).map { |tape| "#{tape.name} #{tape.value}" }
        said = [@figure.mirrored? ? @side : nil, @figure.label].compact.join(" ")
        "#{said[0].upcase}#{said[1..]}#{": #{read.join(", ")}" if read.any?}"
      end

      private

      attr_reader :svg

      # a ring on the skin, numbered where there are several, its words beside it
      def spots
        @spots.each do |spot|
          svg.circle(spot.x, spot.y, 9, class: "spot-ring")
          left = spot.x > WIDTH - 90
          svg.text(
            spot.x + (left ? -14 : 14),
            spot.y + 5,
            spot.words,
            class: "spot-words",
            "text-anchor": left ? "end" : "start"
          )
        end
      end

      # a wide wearer is drawn narrower, where the picture would not hold their arms
      def squeeze
        return 1 if @figure.reach.zero?

        widest =
          @figure.silhouette(@profile).flat_map { |_, left, right| [left.abs, right.abs] }.max
        [1, (@centre - 3) / ((widest + @figure.reach) * @figure.scale)].min
      end

      def x(mm) = @centre + (mm * @across)
      def y(level) = @floor - (level * @up)
      def at((mm, level)) = [x(mm), y(level)]
      def pt((mm, level)) = "#{svg.n(@centre + (mm * @across))} #{svg.n(@floor - (level * @up))}"
      def place(text) = @figure.place(text, @profile)
      def point(name) = place(@figure.points.fetch(name))
      def edges(level, give = 0) = @figure.edges(level, @profile, give)

      # "C L-4,50 R0,2 ..." with every point put in its place
      def trace(text) = text.gsub(/[LRAX]-?[\d.]+,-?[\d.]+/) { |token| pt(place(token)) }

      def outline
        return svg.path(trace(@figure.outline), class: "skin") if @figure.outline

        # [level, point of the left edge, point of the right edge], upwards
        steps =
          @figure
            .silhouette(@profile)
            .map do |level, left, right|
              down = svg.n(y(level))
              [level, "#{svg.n(x(left))} #{down}", "#{svg.n(x(right))} #{down}"]
            end
        left = steps.reverse.map { |step| step[1] }
        right = steps.map(&:last)
        # down the left edge, along the bottom, up the right edge, along the top where the figure
        # has one
        top = "#{trace(@figure.top)} Z" if @figure.top
        svg.path(
          "M#{left.join(" L")} #{trace(@figure.bottom)} L#{right.join(" L")} #{top}",
          class: "skin"
        )
        unread(steps) if @read.any?
      end

      # both edges where nothing was read near: as the other readings let expect them
      def unread(steps)
        near = (@read.min - NEAR_READ)..(@read.max + NEAR_READ)
        steps
          .chunk { |level, *| near.cover?(level) }
          .each do |read, part|
            next if read || part.size < 2

            EDGES.each do |edge|
              way = "M#{part.map { |step| step[edge] }.join(" L")}"
              UNREAD.each { |look| svg.path(way, class: look) }
            end
          end
      end

      def decor
        @figure.lines.each { |line| svg.path(trace(line), class: "bone") }
        @figure.ovals.each do |from, level, rx, ry|
          cx, cy = at(place("#{from},#{level}"))
          svg.element(:ellipse, cx: svg.n(cx), cy: svg.n(cy), rx: rx, ry: ry, class: "bone")
          svg.circle(cx, cy, 3, class: "landmark") if ry == 18
        end
      end

      # an arc across the front at a level, as path data
      def arc(level, give = 0, sag = 7)
        left, right = edges(level, give)
        (lx, ly), (rx,) = at([left, level]), at([right, level])
        "M#{svg.n(lx)} #{svg.n(ly)} Q#{svg.n((lx + rx) / 2)} #{svg.n(ly + (sag * 2))} #{svg.n(rx)} #{svg.n(ly)}"
      end

      # the two ends of a length; a height stands on the floor below its upper end
      def ends(site)
        names = site.between || site.around
        upper = point(names.last)
        lower = names.first == "floor" ? [upper.first, 0] : point(names.first)
        [lower, upper]
      end

      def way(site, give = 0)
        return arc(site.level.mm.to_f, give) if site.level

        a, b = ends(site)
        return "M#{pt(a)} L#{pt(b)}" if site.between

        (ax, ay), (bx, by) = at(a), at(b)
        bent = [((ax + bx) / 2) + ((by - ay) * 0.16), ((ay + by) / 2) - ((bx - ax) * 0.16)]
        "M#{svg.n(ax)} #{svg.n(ay)} Q#{bent.map { |n| svg.n(n) }.join(" ")} #{svg.n(bx)} #{svg.n(by)}"
      end

      def tape_line(tape)
        path = way(tape.site, 1)
        case tape.state
        when :active
          %w[tape-edge tape-on tape-ticks].each { |look| svg.path(path, class: look) }
        when :done
          svg.path(way(tape.site), class: "tape-done")
        else
          svg.path(way(tape.site), class: "tape-waiting")
        end
        stops(tape) if tape.site.between && tape.state != :waiting
      end

      # short strokes across both ends of a length
      def stops(tape)
        (ax, ay), (bx, by) = ends(tape.site).map { |end_point| at(end_point) }
        length = [Math.hypot(bx - ax, by - ay), 1].max
        dx = (by - ay) / length * 8
        dy = (ax - bx) / length * 8
        [[ax, ay], [bx, by]].each do |px, py|
          svg.line(px - dx, py - dy, px + dx, py + dy, class: "bracket")
        end
      end

      # where a leader line starts
      def anchor(site)
        if site.level
          return(
            at(
              [
                (
                  if @mirror.positive?
                    edges(site.level.mm.to_f).last
                  else
                    edges(site.level.mm.to_f).first
                  end
                ),
                site.level.mm.to_f
              ]
            )
          )
        end

        a, b = ends(site)
        at([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2])
      end

      def labels
        return values_on_limb if @slim

        named =
          @tapes
            .map { |tape| [tape, anchor(tape.site), wrapped(tape.name)] }
            .sort_by { |_, at, _| at.last }
        named
          .zip(tops(named))
          .each { |(tape, (ax, ay), lines), top| label_of(tape, ax, ay, lines, top) }
      end

      # where each label begins: beside its place, below the one before, and above the foot of the
      # picture
      def tops(named)
        last = -LABEL
        tops =
          named.map do |_, (_, ay), lines|
            top = [ay - 4 - ((lines.size - 1) * 15), last + LABEL].max
            last = top + ((lines.size - 1) * 15)
            top
          end
        floor = HEIGHT - 24
        named
          .zip(tops)
          .reverse
          .map do |(_, _, lines), top|
            top = [top, floor - ((lines.size - 1) * 15)].min
            floor = top - LABEL
            top
          end
          .reverse
      end

      def label_of(tape, ax, ay, lines, top)
        on = tape.state == :active
        if ax < @figure.labels - 16
          svg.path(
            "M#{svg.n(ax + 4)} #{svg.n(ay)} L#{@figure.labels - 14} #{svg.n(top + 4)} " \
              "L#{@figure.labels - 4} #{svg.n(top + 4)}",
            class: "leader"
          )
        end
        lines.each_with_index do |line, i|
          svg.text(@figure.labels, top + (i * 15), line, class: on ? "said is-on" : "said")
        end
        value_of(tape, top + 18 + ((lines.size - 1) * 15))
      end

      # what was read, else what will probably be
      def value_of(tape, below)
        looks = ["value"]
        looks << "is-on" if tape.state == :active
        looks << "is-expected" if tape.value.nil? && tape.expected
        svg.text(@figure.labels, below, tape.value || tape.expected || "–", class: looks.join(" "))
      end

      def wrapped(name)
        name
          .split
          .each_with_object([+""]) do |word, lines|
            if (lines.last.size + 1 + word.size) > LINE && !lines.last.empty?
              lines << +word
            else
              lines.last << (lines.last.empty? ? word : " #{word}")
            end
          end
      end

      def values_on_limb
        @tapes
          .select { |tape| tape.value || tape.state == :active }
          .each do |tape|
            ax, ay, how = on_limb(tape.site)
            svg.text(
              ax,
              ay,
              tape.value || "–",
              class: tape.state == :active ? "value is-slim is-on" : "value is-slim",
              "text-anchor": how
            )
          end
      end

      # below a line across, outwards of one along the limb
      def on_limb(site)
        level = site.level&.mm&.to_f
        return *at([@figure.axis(level), level]).zip([0, 30]).map(&:sum), "middle" if level

        (ax, ay), (bx, by) = ends(site).map { |one| at(one) }
        return (ax + bx) / 2, ((ay + by) / 2) + 24, "middle" if (ax - bx).abs > (ay - by).abs

        [((ax + bx) / 2) + (6 * @mirror), ((ay + by) / 2) + 5, @mirror.positive? ? "start" : "end"]
      end

      # what the reading being taken is found from, named on the picture
      def landmarks
        active = @tapes.find { |tape| tape.state == :active } or return
        active.site.by.to_a.each do |name|
          next if @bracket && name == @bracket.from

          px, py = at(place(@figure.landmarks.fetch(name)))
          svg.circle(px, py, 4, class: "landmark")
          left = px < @centre - 4
          svg.text(
            px + (left ? 8 : -8),
            py - 7,
            name,
            class: "said is-pine is-landmark",
            "text-anchor": left ? "start" : "end"
          )
        end
      end

      # the distance from the landmark to the level being read
      def bracket
        level = @bracket.level.mm.to_f
        origin = level - @bracket.offset.mm.to_f
        px = 58
        svg.line(px + 8, y(origin), x(@figure.axis(origin)) - 6, y(origin), class: "sight")
        [origin, level].each do |end_level|
          svg.line(px - 8, y(end_level), px + 8, y(end_level), class: "bracket")
        end
        svg.line(px, y(origin), px, y(level), class: "bracket")
        svg.text(
          px - 8,
          y(origin) + (level > origin ? 16 : -8),
          @bracket.from,
          class: "said is-pine",
          "text-anchor": "middle"
        )
        svg.text(
          px - 8,
          (y(origin) + y(level)) / 2,
          Quantity::Length.mm(@bracket.offset.mm.abs).plain("cm"),
          class: "said is-pine",
          "text-anchor": "end"
        )
      end

      def device
        @device.shells.each { |low, high| shell(low, high) }
        upright if @device.upright && @device.hinge
        @device.seams.to_a.each { |along| seam(along) }
        opening if @device.opening
        @device.straps.each { |strap| strap_line(strap) }
      end

      def seam(along)
        low, high = @device.shells.first
        points = [high, low].map { |level| at([across(along, level), level]) }
        svg.path(svg.trace(points), class: "seam")
      end

      def opening
        along, level, diameter = @device.opening
        px, py = at([across(along, level), level])
        svg.circle(px, py, diameter / 2 * @figure.scale * @squeeze, class: "opening")
      end

      # how far from the middle a point of the front is seen, of mm along a body as round as it is
      # wide there
      def across(along, level)
        left, right = edges(level)
        half = (right - left) / 2.0
        half * Math.sin((along / half).clamp(-Math::PI / 2, Math::PI / 2))
      end

      def shell(low, high, look: "shell")
        levels = [*(low.to_i..high.to_i).step(5), high].uniq
        left = levels.reverse.map { |level| at([edges(level, 5).first, level]) }
        right = levels.map { |level| at([edges(level, 5).last, level]) }
        svg.path(svg.trace(left + right, close: true), class: look)
      end

      def upright
        hx, hy = hinged
        svg.line(66, hy, hx - 8, hy, class: "sight") unless @bracket
        svg.text(62, hy + 4, "hinge", class: "said is-pine", "text-anchor": "end")
      end

      # the upright with its hinge; returns where that is
      def hinged(look: nil, radius: 8)
        pick = ->(level) do
          edges(level, 7).public_send(@device.upright == "outer" ? :last : :first)
        end
        levels = [
          @device.shells.map(&:last).max - 20,
          @device.hinge,
          @device.shells.map(&:first).min + 20
        ]
        way = svg.trace(levels.map { |level| at([pick[level], level]) })
        svg.path(way, class: ["upright", *look].join(" "))
        hinge = at([pick[@device.hinge], @device.hinge])
        svg.circle(*hinge, radius, class: ["hinge", *look].join(" "))
        hinge
      end

      def strap_line(strap)
        svg.path(arc(strap.level, 5, 5), class: "strap is-#{strap.state}")
        px = [edges(strap.level, 5).map { |edge| x(edge) }.max + 26, 228].max
        px += 28 if beside_another?(strap)
        svg.circle(px, y(strap.level) + 2, 12, class: "strap-number is-#{strap.state}")
        svg.text(
          px,
          y(strap.level) + 7,
          strap.number,
          class: "strap-figure is-#{strap.state}",
          "text-anchor": "middle"
        )
      end

      # a number that would lie on that of the strap drawn before it stands further out
      def beside_another?(strap)
        before = @device.straps.take_while { |other| other.number != strap.number }
        before.count { |other| (y(other.level) - y(strap.level)).abs < 25 }.odd?
      end

      def words
        if @slim
          return(
            svg.text(
              @centre,
              [HEIGHT - 14, @floor + 54].min,
              @side,
              class: "said is-pine",
              "text-anchor": "middle"
            )
          )
        end

        @figure.words.each do |word, text|
          px, py = at(place(text))
          px = (2 * @centre) - px if @figure.sided? && @mirror.negative?
          svg.text(px, py, word, class: "said is-pine", "text-anchor": "middle")
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Fitting
    # The line of a limb or a trunk from points that were placed on a view from the front or from
    # behind: how far off it is, in degrees, and in mm where one length is known.
    #
    #   line = Alignment.of("leg", { "hip" => [100, 50], "knee" => [108, 300], "toe" => [100, 560] },
    #                       side: "left", known: 800)
    #   line.angle  # => 3.6, degrees between thigh and shank, outward positive
    #   line.offset # => 12.4, mm of the knee from the line between hip and toe
    #
    # Points are [x, y] of the picture, y downward, in any one unit. A camera that is not square to
    # the body, or held at another height, changes what is seen: angles are compared with one
    # another, before and after, and are no measurement of bone.
    class Alignment
      class Unknown < Handrail::Error
      end

      # A line: the points that it wants, in order, with their names; known - what the known length
      # spans, two of them; view - from where.
      Line = Value.new(:key, :label, :points, :known, :view)

      LINES =
        [
          Line[
            key: "leg",
            label: "Line of the leg",
            view: "front",
            points: {
              "hip" => "front point of the hip (ASIS)",
              "knee" => "middle of the kneecap",
              "toe" => "second toe"
            },
            known: %w[hip toe]
          ],
          Line[
            key: "heel",
            label: "Line of the heel",
            view: "behind",
            points: {
              "calf" => "middle of the calf",
              "ankle" => "middle of the Achilles tendon at the ankle bones",
              "heel" => "middle of the heel at the floor"
            },
            known: %w[calf heel]
          ],
          Line[
            key: "trunk",
            label: "Shoulders and pelvis",
            view: "front",
            points: {
              "right_shoulder" => "right shoulder point",
              "left_shoulder" => "left shoulder point",
              "right_pelvis" => "right crest of the pelvis",
              "left_pelvis" => "left crest of the pelvis"
            },
            known: %w[right_shoulder left_shoulder]
          ]
        ].to_h { |line| [line.key, line] }.freeze

      # line - key of LINES; points - name => [x, y]; side - "left" or "right", nil for a trunk;
      # known - mm between the two points that the line names, or nil. Raises Unknown for a line or
      # points that are none, or that lie on one another.
      def self.of(line, points, side: nil, known: nil)
        wanted = LINES.fetch(line.to_s) { raise Unknown, "There is no line called “#{line}”." }
        found = wanted.points.keys.to_h { |name| [name, point(points[name], wanted.points[name])] }
        { "leg" => Leg, "heel" => Heel, "trunk" => Trunk }.fetch(wanted.key).new(
          wanted,
          found,
          side,
          known
        )
      end

      def self.point(raw, name)
        x, y = Array(raw).map { |n| Float(n, exception: false) }
        raise Unknown, "Show the #{name} on the picture." unless x && y && x.finite? && y.finite?

        [x, y]
      end
      private_class_method :point

      attr_reader :line, :points, :side

      def initialize(line, points, side, known)
        @line = line
        @points = points
        @side = side
        span = length(*line.known)
        unless span.positive?
          raise Unknown, "Two of the points lie on one another. Show them apart."
        end

        @scale = known && (known.to_f / span)
        freeze
      end

      # mm of a length of the picture, nil where no length is known
      def mm(units) = @scale && (units * @scale)

      private

      # seen from the front the left side lies on the viewer's right: outward is +x there; from
      # behind it is the other way round
      def outward
        sign = side == "right" ? -1 : 1
        line.view == "behind" ? -sign : sign
      end

      def length(from, to) = Math.hypot(*delta(from, to))
      def delta(from, to) = points[to].zip(points[from]).map { |b, a| b - a }

      # degrees of a downward direction from the vertical, toward the outer side positive
      def lean(from, to)
        across, down = delta(from, to)
        degrees(Math.atan2(across * outward, down))
      end

      # degrees of a sideways direction from the horizontal, right to left, left side low positive
      def tilt(right, left)
        across, down = delta(right, left)
        degrees(Math.atan2(down, across.abs))
      end

      def degrees(radians) = radians * 180 / Math::PI

      # Hip, knee and second toe.
      class Leg < self
        # Degrees between thigh and shank; outward positive: the knee lies outside the line.
        def angle = lean("hip", "knee") - lean("knee", "toe")

        # How far the knee lies from the line between hip and toe, outward positive; in mm, or in
        # parts of a hundred of that line where no length is known.
        def offset
          (ax, ay), (kx, ky), (bx, by) = points.values
          off = (((bx - ax) * (ky - ay)) - ((by - ay) * (kx - ax))) / length("hip", "toe")
          own = -off * outward
          mm(own) || (own / length("hip", "toe") * 100)
        end

        def figures = { angle: angle, offset: offset, unit: @scale ? "mm" : "% of the leg" }
      end

      # Calf, ankle and heel from behind.
      class Heel < self
        # Degrees between the heel and the shank above it; rolling in (the heel's foot outward)
        # positive.
        def angle = lean("ankle", "heel") - lean("calf", "ankle")

        # Degrees of the heel from the vertical.
        def stands = lean("ankle", "heel")
        def figures = { angle: angle, stands: stands }
      end

      # Shoulders and pelvis.
      class Trunk < self
        def shoulders = tilt("right_shoulder", "left_shoulder")
        def pelvis = tilt("right_pelvis", "left_pelvis")

        # How far the middle of the shoulders stands beside the middle of the pelvis, to the
        # wearer's left positive: mm, or parts of a hundred of the shoulders' width.
        def shift
          across = middle("left_shoulder", "right_shoulder") - middle("left_pelvis", "right_pelvis")
          mm(across) || (across / length("right_shoulder", "left_shoulder") * 100)
        end

        def figures
          {
            shoulders: shoulders,
            pelvis: pelvis,
            shift: shift,
            unit: @scale ? "mm" : "% of the shoulders"
          }
        end

        private

        def middle(one, other) = (points[one].first + points[other].first) / 2
      end
    end
  end
end

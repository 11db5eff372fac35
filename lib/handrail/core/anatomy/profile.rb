# frozen_string_literal: true

module Handrail
  module Anatomy
    # A limb as girth by level: a monotone cubic through the known girths (Fritsch and Carlson, SIAM
    # Journal on Numerical Analysis 17, 1980, 238-246), so that the curve never swings beyond the
    # readings it joins.
    #
    # Levels and girths are plain numbers of millimetres (Float): a profile is a drawing and an
    # estimate, never a stored reading.
    class Profile
      attr_reader :levels, :girths

      # points - [[level, girth], ...] in mm; at least two, at different levels. Raises
      # ArgumentError otherwise.
      def initialize(points)
        sorted = points.map { |level, girth| [level.to_f, girth.to_f] }.sort
        if sorted.map(&:first).uniq.size < 2
          raise ArgumentError, "a profile needs girths at two levels or more"
        end
        if sorted.map(&:first).uniq.size < sorted.size
          raise ArgumentError, "a profile has one girth at each level"
        end

        @levels, @girths = sorted.transpose
        @cubics = cubics(tangents)
        freeze
      end

      # A reference [[level, girth], ...] bent to this wearer: between known girths the ratio
      # wearer/reference runs straight from one to the next, beyond them it stays. known - [[level,
      # girth], ...] in mm.
      def self.fitted(known, reference:)
        base = new(reference)
        ratios = known.map { |level, girth| [level.to_f, girth / base.girth(level)] }.sort
        points = (reference.map(&:first) + known.map(&:first)).map(&:to_f).uniq.sort
        new(points.map { |level| [level, base.girth(level) * ratio(ratios, level)] })
      end

      def self.ratio(ratios, level)
        return 1.0 if ratios.empty?
        return ratios.first.last if level <= ratios.first.first
        return ratios.last.last if level >= ratios.last.first

        (low, a), (high, b) = ratios.each_cons(2).find { |_, upper| level <= upper.first }
        a + ((b - a) * (level - low) / (high - low))
      end
      private_class_method :ratio

      # Girth at a level, both in mm; beyond the ends the end girth. The cubic of Hermite in
      # Horner's form: a figure asks for hundreds of these.
      def girth(level)
        level = level.to_f
        return girths.first if level <= levels.first
        return girths.last if level >= levels.last

        on(stretch(level), level)
      end

      # The girths at many levels (mm, upwards), as `girth` gives each: stretch by stretch, without looking for it anew.
      def along(upwards)
        i = 0
        last = @cubics.size - 1
        upwards.map do |level|
          next girths.first if level <= levels.first
          next girths.last if level >= levels.last

          i += 1 while i < last && levels[i + 1] < level
          on(@cubics[i], level)
        end
      end

      # Change of girth per mm of height at a level: what one millimetre of misplaced tape does.
      def slope(level)
        level = level.to_f.clamp(levels.first, levels.last)
        low, length, _, start, middle, bend = stretch(level)
        t = (level - low) / length
        (start + (t * ((2 * middle) + (t * 3 * bend)))) / length
      end

      # How much more (or less) a tape reads when it lies `offset` mm higher than the mark.
      def error(level, offset) = girth(level + offset) - girth(level)

      # Level of the largest girth between two levels, to the millimetre.
      def widest(from, to) = (from.to_i..to.to_i).max_by { |level| girth(level) }

      private

      # the stretch a level lies in
      def stretch(level) = @cubics[[levels.bsearch_index { |x| x >= level } - 1, 0].max]

      def on((low, length, base, start, middle, bend), level)
        t = (level - low) / length
        base + (t * (start + (t * (middle + (t * bend)))))
      end

      # of each stretch: its lower level, its length, the girth there, and the factors of t, t squared and t cubed,
      # where t goes from 0 to 1 along it
      def cubics(tangents)
        Array.new(levels.size - 1) do |i|
          length = levels[i + 1] - levels[i]
          rise = girths[i + 1] - girths[i]
          start = length * tangents[i]
          bend = start + (length * tangents[i + 1]) - (2 * rise)
          [levels[i], length, girths[i], start, rise - start - bend, bend].freeze
        end
      end

      def tangents
        slopes =
          levels
            .each_cons(2)
            .zip(girths.each_cons(2))
            .map { |(x0, x1), (y0, y1)| (y1 - y0) / (x1 - x0) }
        inner = slopes.each_cons(2).map { |a, b| a * b <= 0 ? 0.0 : (a + b) / 2 }
        limit([slopes.first, *inner, slopes.last], slopes)
      end

      # Keeps every tangent inside the circle of radius 3 in which the cubic is monotone.
      def limit(tangents, slopes)
        slopes.each_with_index do |slope, i|
          next tangents[i] = tangents[i + 1] = 0.0 if slope.zero?

          a = tangents[i] / slope
          b = tangents[i + 1] / slope
          next if (length = Math.hypot(a, b)) <= 3

          tangents[i] = 3 * a / length * slope
          tangents[i + 1] = 3 * b / length * slope
        end
        tangents
      end
    end
  end
end

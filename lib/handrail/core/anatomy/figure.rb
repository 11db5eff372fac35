# frozen_string_literal: true

module Handrail
  module Anatomy
    # A part of the body as it is drawn: its reference profile and where named points lie, read from
    # knowledge/figures.yml.
    # All in mm, x to the viewer's right from the centre line, levels up.
    class Figure
      attr_reader :key,
                  :body,
                  :label,
                  :labels,
                  :from,
                  :to,
                  :scale,
                  :origin,
                  :follows,
                  :bottom,
                  :top,
                  :outline,
                  :lines,
                  :ovals,
                  :points,
                  :landmarks,
                  :words

      # points of the files as they were read
      POINTS = Memory.new(4000)
      private_constant :POINTS

      class << self
        # key => Figure, of the edition that is read by.
        def all = Edition.here.figures
        def fetch(key) = all.fetch(key) { raise Handrail::Error, "There is no figure “#{key}”." }

        # raw - figures.yml as it reads
        def read(raw) = raw.fetch("figures").to_h { |key, one| [key, new(key, one)] }.freeze
      end

      def initialize(key, raw)
        @key = key
        @body,
        @label,
        @labels,
        @from,
        @to,
        @scale,
        @origin,
        @follows,
        @bottom,
        @top,
        @outline,
        @lines,
        @ovals,
        @points,
        @landmarks,
        @words =
          raw.values_at(
            *%w[
              body
              label
              labels
              from
              to
              scale
              origin
              follows
              bottom
              top
              outline
              lines
              ovals
              points
              landmarks
              words
            ]
          )
        @mirrored = raw["mirrored"]
        @reach = raw.fetch("reach", 0)
        @sided = raw.fetch("sided", false)
        shape(raw)
        freeze
      end

      # how far apart (mm) the points of an outline lie
      STEP = 5
      POINT = /\A(?<from>[LRAX])(?<x>-?[\d.]+),(?<level>-?[\d.]+)\z/
      private_constant :STEP, :POINT

      def mirrored? = @mirrored

      # How far (mm) the drawing reaches beyond the edges of the body: arms beside a trunk; else 0.
      attr_reader :reach

      # Whether its points are those of the wearer's left and lie across for the right, while the
      # body stays as it is.
      def sided? = @sided

      # The girths of an average body, [[level, girth], ...]; nil for a figure that is drawn from
      # widths.
      attr_reader :reference

      # The reference bent to known girths [[level, girth], ...]; nil for a figure drawn from
      # widths.
      def profile(known = [])
        reference && (known.empty? ? @average : Profile.fitted(known, reference: reference))
      end

      def axis(level) = @axis.girth(level)

      # The edges at a level [left, right], in mm from the centre line. profile - the wearer's, or
      # nil; give - how far outside the skin.
      def edges(level, profile = nil, give = 0)
        around(level, axis(level), *halves_at(level), profile).then do |left, right|
          [left - give, right + give]
        end
      end

      # Both edges from the lower end to the upper, every 5 mm: [[level, left, right], ...], as
      # `edges` gives them.
      def silhouette(profile = nil)
        @steps.map do |level, axis, left, right|
          [level, *around(level, axis, left, right, profile)]
        end
      end

      # A point "R-5,94" as [x, level]. Raises Handrail::Error where the text is no point.
      def place(text, profile = nil)
        from, x, level = POINTS.remember([key, text]) { read(text) }
        inside = level.clamp(self.from, to)
        base =
          case from
          when "L"
            edges(inside, profile).first
          when "R"
            edges(inside, profile).last
          when "A"
            axis(inside)
          else
            0
          end
        [base + x, level]
      end

      private

      # the body by level: girths, middle, halves, and all of it every few millimetres
      def shape(raw)
        @reference = raw["girth"]
        @average = @reference && Profile.new(@reference)
        @axis = Profile.new(raw["axis"])
        halves = raw["share"] || raw["widths"]
        @left, @right =
          [1, 2].map { |column| Profile.new(halves.map { |row| [row[0], row[column]] }) }
        @steps =
          [*(from..to).step(STEP), to].uniq.map { |level| [level, axis(level), *halves_at(level)] }
      end

      def halves_at(level) = [@left.girth(level), @right.girth(level)]

      # left and right edge of a round whose middle lies at axis
      def around(level, axis, left, right, profile)
        round = reference ? (profile || @average).girth(level) / (2 * Math::PI) : 1
        [axis - (round * left), axis + (round * right)]
      end

      def read(text)
        match = POINT.match(text) or raise Handrail::Error, "“#{text}” is no point of a figure."
        [match[:from], match[:x].to_f, match[:level].to_f]
      end
    end
  end
end

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

      # how far apart the points of an outline lie: of one that is traced in full size (mm), and of one that is looked
      # at (px; between two of them a limb bends by less than a quarter of one)
      STEP = 5
      SEEN = 6
      # girth of a round by its radius
      ROUND = 2 * Math::PI
      POINT = /\A(?<from>[LRAX])(?<x>-?[\d.]+),(?<level>-?[\d.]+)\z/
      private_constant :STEP, :SEEN, :ROUND, :POINT

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
        round = round_at(level, profile)
        axis = axis(level)
        left, right = halves_at(level)
        [axis - (round * left) - give, axis + (round * right) + give]
      end

      # Both edges from the lower end to the upper, every 6 px: [[level, left, right], ...], as `edges` gives them.
      # traced - whether it is for a drawing in full size; every 5 mm then.
      def silhouette(profile = nil, traced: false)
        steps = traced ? @traced : @seen
        girths = (profile || @average).along(steps.map(&:first)) if reference
        steps.each_with_index.map do |(level, axis, left, right), i|
          round = reference ? girths[i] / ROUND : 1
          [level, axis - (round * left), axis + (round * right)]
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
        @traced, @seen =
          [STEP, SEEN / scale.to_f].map do |apart|
            [*(from..to).step(apart), to].uniq.map do |level|
              [level, axis(level), *halves_at(level)]
            end
          end
      end

      def halves_at(level) = [@left.girth(level), @right.girth(level)]

      # the radius of a round body of the girth at a level; 1 where its halves are widths
      def round_at(level, profile)
        reference ? (profile || @average).girth(level) / ROUND : 1
      end

      def read(text)
        match = POINT.match(text) or raise Handrail::Error, "“#{text}” is no point of a figure."
        [match[:from], match[:x].to_f, match[:level].to_f]
      end
    end
  end
end

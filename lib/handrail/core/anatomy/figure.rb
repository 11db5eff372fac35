# frozen_string_literal: true

module Handrail
  module Anatomy
    # A part of the body as it is drawn: its reference profile and where named points lie, read from
    # knowledge/figures.yml.
    # All in mm, x to the viewer's right from the centre line, levels up.
    class Figure
      attr_reader :key, :body, :label, :labels, :from, :to, :scale, :origin, :follows, :bottom, :top, :outline, :lines, :ovals, :points, :landmarks,
                  :words

      class << self
        # key => Figure, loaded once. Raises Knowledge::Faulty.
        def all = @all ||= load(File.join(ROOT, "knowledge", "figures.yml"))
        def fetch(key) = all.fetch(key) { raise Handrail::Error, "There is no figure “#{key}”." }

        def load(path)
          Knowledge.read(path, schema: "figures").fetch("figures").to_h { |key, raw| [key, new(key, raw)] }.freeze
        end
      end

      def initialize(key, raw)
        @key = key
        @body, @label, @labels, @from, @to, @scale, @origin, @follows, @bottom, @top, @outline, @lines, @ovals, @points, @landmarks, @words =
          raw.values_at(*%w[body label labels from to scale origin follows bottom top outline lines ovals points
                            landmarks words])
        @mirrored = raw["mirrored"]
        @sided = raw.fetch("sided", false)
        @reference = raw["girth"]
        @axis = Profile.new(raw["axis"])
        halves = raw["share"] || raw["widths"]
        @left, @right = [1, 2].map { |column| Profile.new(halves.map { |row| [row[0], row[column]] }) }
        freeze
      end

      def mirrored? = @mirrored

      # Whether its points are those of the wearer's left and lie across for the right, while the body stays as it is.
      def sided? = @sided

      # The girths of an average body, [[level, girth], ...]; nil for a figure that is drawn from widths.
      attr_reader :reference

      # The reference bent to known girths [[level, girth], ...]; nil for a figure drawn from widths.
      def profile(known = [])
        reference && (known.empty? ? Profile.new(reference) : Profile.fitted(known, reference: reference))
      end

      def axis(level) = @axis.girth(level)

      # The edges at a level [left, right], in mm from the centre line. profile - the wearer's, or nil; give - how
      # far outside the skin.
      def edges(level, profile = nil, give = 0)
        round = reference ? (profile || self.profile).girth(level) / (2 * Math::PI) : 1
        [axis(level) - (round * @left.girth(level)) - give, axis(level) + (round * @right.girth(level)) + give]
      end

      # A point "R-5,94" as [x, level].
      def place(text, profile = nil)
        match = /\A(?<from>[LRAX])(?<x>-?[\d.]+),(?<level>-?[\d.]+)\z/.match(text) or raise Handrail::Error,
                                                                                            "“#{text}” is no point of a figure."
        level = match[:level].to_f
        inside = level.clamp(from, to)
        base = { "L" => -> { edges(inside, profile).first }, "R" => -> { edges(inside, profile).last }, "A" => -> {
          axis(inside)
        }, "X" => -> {
             0
           } }
        [base.fetch(match[:from]).call + match[:x].to_f, level]
      end
    end
  end
end

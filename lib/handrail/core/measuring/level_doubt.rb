# frozen_string_literal: true

module Handrail
  module Measuring
    # What a tape laid at the wrong level would do: the wearer's own profile, read a little higher
    # or lower than the mark.
    class LevelDoubt
      # the misplacement considered, in mm
      STEP = 10

      # profile - Anatomy::Profile of this wearer; site - an Anatomy::Site with a level; value - the
      # Repeats read there.
      def initialize(profile, site, value)
        @profile = profile
        @site = site
        @value = value
      end

      # Change of the reading in mm when the tape lies STEP lower (Float).
      def lower = @profile.error(@site.level.mm.to_f, -STEP)
      def higher = @profile.error(@site.level.mm.to_f, STEP)

      # The readings that the same leg would give, in mm: [lower, higher]
      def readings = [lower, higher].map { |error| @value.mm.to_f + error }

      # What a centimetre would do. way - "lower" or "higher"; mm - the change of the reading,
      # signed; size - the other size that it would name, or nil.
      Finding = Value.new(:way, :mm, :size)

      # A Finding, or nil where a centimetre makes less than 2 mm: of the direction that would name
      # another size, else of the one that changes the reading more. part - the Sizing::Part that
      # the reading is held against.
      def finding(part)
        ways = { "lower" => lower, "higher" => higher }.reject { |_, error| error.abs < 2 }
        return if ways.empty?

        others = ways.transform_values { |error| named(part, @value.mm.to_f + error) }
        way = ways.keys.max_by { |one| [others[one] ? 1 : 0, ways[one].abs] }
        Finding[way: way, mm: ways[way], size: others[way]]
      end

      private

      # the size that a misread girth would name, when it is another one
      def named(part, mm)
        demand = part.demands.find { |d| d.site == @site.key } or return
        here, there = [@value.mm, mm].map { |x| part.named(demand, x).map(&:name) }
        (there - here).last unless there.empty? || here == there
      end
    end
  end
end

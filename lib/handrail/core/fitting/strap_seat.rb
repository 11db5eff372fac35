# frozen_string_literal: true

module Handrail
  module Fitting
    # Whether a limb holds a strap at its height, or only its grip does.
    #
    # Take a short stretch of limb as a thin cone of half angle a about its axis: with the radius r
    # = G / (2 pi) at the height z, tan(a) = |dr/dz| = |dG/dz| / (2 pi). A strap presses on that
    # slope with a force N at right angles to it; along the slope it is drawn by N tan(a) (its own
    # weight is small beside that), and held by at most the friction m N. So it stays where m >=
    # tan(a): the friction that is needed is |dG/dz| / (2 pi). Where the girth grows toward the foot
    # (dG/dz <= 0) a strap can not slip down at all: the limb itself holds it.
    #
    # Heights and girths are mm (Float). It is an estimate from a drawn profile, never a check made.
    class StrapSeat
      # how far up a better height is looked for, in mm, and how finely
      REACH = 120
      # a slope this small holds: within what a profile can tell
      FLAT = 1e-6

      attr_reader :level

      # profile - Anatomy::Profile; level - the strap's height
      def initialize(profile, level)
        @profile = profile
        @level = level
        @slope = profile.slope(level)
      end

      # Whether the limb holds the strap from slipping down.
      def held? = @slope <= FLAT

      # The friction without which it slips down; 0 where the limb holds it.
      def friction = held? ? 0.0 : @slope / (2 * Math::PI)

      # How much higher (whole mm) the nearest height lies at which the limb holds it; nil where
      # there is none within reach, 0 where it is held.
      def lift = @lift ||= (0..REACH).find { |up| holds?(level + up) }

      # How much higher the last height of that stretch lies: the strap may lie from `lift` to
      # there.
      def highest
        return unless lift

        (lift..REACH).take_while { |up| holds?(level + up) }.last
      end

      # How far below the widest place above it the strap lies, in mm; nil where it does not lie
      # below one.
      def below_widest
        return if held? || lift.nil?

        @profile.widest(level.floor, (level + lift + 1).ceil) - level
      end

      private

      def holds?(level) = level <= @profile.levels.last && @profile.slope(level) <= FLAT
    end
  end
end

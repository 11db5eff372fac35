# frozen_string_literal: true

module Handrail
  module Measuring
    # A tape that is not square to the limb. Round a circular limb of radius r a tape tilted by t
    # degrees lies on an ellipse with the half axes r and r / cos t, whose eccentricity is sin t; it
    # reads longer by the ratio of the two perimeters, 2 E(sin t) / (pi cos t), where E is the
    # complete elliptic integral of the second kind.
    module Tilt
      # How many times longer a tilted tape reads; degrees - below 90. Raises ArgumentError.
      def self.factor(degrees)
        raise ArgumentError, "a tape is tilted by less than 90 degrees" unless degrees.abs < 90

        t = degrees * Math::PI / 180
        2 * elliptic(Math.sin(t)) / (Math::PI * Math.cos(t))
      end

      # What a tilt adds to a girth, in the unit of the girth.
      def self.error(girth, degrees) = girth.to_f * (factor(degrees) - 1)

      # E(k) by the arithmetic-geometric mean (Abramowitz and Stegun 17.6, from memory): it doubles
      # its digits at each turn.
      def self.elliptic(k)
        a = 1.0
        b = Math.sqrt(1 - (k * k))
        c = k.abs
        power = 0.5
        sum = power * c * c
        while c > 1e-15
          a, b, c = (a + b) / 2, Math.sqrt(a * b), (a - b) / 2
          power *= 2
          sum += power * c * c
        end
        Math::PI / (2 * a) * (1 - sum)
      end
      private_class_method :elliptic
    end
  end
end

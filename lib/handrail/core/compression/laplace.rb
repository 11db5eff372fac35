# frozen_string_literal: true

module Handrail
  module Compression
    # The pressure that a strap or bandage of some tension presses on a limb with, after Laplace: P
    # = T n / (r w), with the radius r = C / (2 pi).
    #
    # In the units of the couch P [mmHg] = 2 pi x 9.80665 x 10^4 / 133.322 x T [kgf] x n / (C [cm] x
    # w [cm]); the constant is 4621.7, published as 4620 (Thomas S, EWMA Journal 3(1), 2003, 21-23).
    # It holds for a round limb and a strap that lies along it; a bony edge is pressed more, a
    # hollow less. It is an estimate and replaces no sensor.
    module Laplace
      # mmHg x cm^2 a kilogram-force: 2 pi g (NIST SP 330: 9.80665 m/s^2) over 133.322 Pa a mmHg
      CONSTANT = 2 * Math::PI * 9.80665e4 / 133.322

      class << self
        # mmHg under so many layers. tension - kgf in one layer; girth, width - cm
        def pressure(tension, girth:, width:, layers: 1) =
          CONSTANT * tension * layers / (girth * width)

        # The tension in kgf that one layer carries where it presses so much.
        def tension(pressure, girth:, width:, layers: 1) =
          pressure * girth * width / (CONSTANT * layers)

        # What one layer more presses, where so many press `pressure` now.
        def one_more(pressure, layers) = pressure * (layers + 1) / layers.to_f

        # What the same tension presses where the limb has another girth.
        def at_girth(pressure, girth, other) = pressure * girth / other.to_f
      end
    end
  end
end

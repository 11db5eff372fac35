# frozen_string_literal: true

module Handrail
  module Compression
    # What straps press when the leg has become thinner and nobody has pulled them.
    #
    # A strap of unstretched length L lies round a girth C stretched by s: C = L (1 + s). It pulls in
    # proportion to its stretch (an elastic strap within its working range; our simplification). On a
    # girth that is a share p smaller its stretch is s - p (1 + s), so the pull falls to that part of
    # it; by Laplace the pressure falls with the pull and rises as the girth shrinks:
    #
    #   P' = P (s - p (1 + s)) / s / (1 - p), and nothing once the stretch is used up
    module Thinner
      class << self
        # mmHg on a leg that is a share smaller. pressure - mmHg now; stretch, share - 0 to 1
        def pressure(pressure, stretch:, share:)
          left = stretch - (share * (1 + stretch))
          return 0.0 unless left.positive?

          pressure * left / stretch / (1 - share)
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # A wedge as HeelWedge has it; what a stock wedge or whole steps give more or less than was asked is said.
      class HeelWedgeV3 < HeelWedge
        # degrees beyond which a stock wedge is another correction (common practice, no source)
        NEAR = 0.5

        private

        def nearest(height)
          super
          off("clip", given_by(height) - wanted)
          off("bevel", (steps * input(:step).to_f) - wanted)
        end

        # what the nearest wedges, alone or two together, give
        def given_by(height)
          stock = input(:wedges).map(&:mm).sort
          best = (stock + stock.combination(2).map(&:sum)).min_by { |sum| (sum.to_f - height).abs }
          self.class.degrees(mm(:heel), best)
        end

        def off(which, by)
          return if by.abs <= NEAR

          note(:"#{which}_#{by.positive? ? "over" : "under"}", :look_again, by: by.abs.round(1))
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # Levels as KafoLevels has them; the condyles lie level with mid patella or a little below, never above.
      class KafoLevelsV3 < KafoLevels
        # mm that the condyles may lie above and below mid patella (common practice, no source)
        ABOVE = 10
        BELOW = 50

        private

        def order_of_levels
          below = mm(:patella) - mm(:condyle)
          note(:condyles, :look_again, apart: below.abs) unless below.between?(-ABOVE, BELOW)
          note(:malleolus, :stop) unless mm(:malleolus) < mm(:patella) - STEP
        end
      end
    end
  end
end

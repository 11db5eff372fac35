# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # Straps as WrapStraps counts them, on a leg that the wrap leaves free below the knee crease: two fingers,
      # so that no strap enters it (common practice, no source).
      class WrapStrapsV3 < WrapStraps
        # two fingers, in mm
        CLEAR = 40

        private

        def needed = [((mm(:length) - CLEAR - mm(:strap_width)) / pitch).ceil + 1, 1].max
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # Arms as PanelArms has them; a trunk on which no arm is left gets another panel.
      class PanelArmsV2 < PanelArms
        # the shortest arm that a hook and a loop still lie on, in mm (common practice, no source)
        LEAST = 20

        def compute
          return super if arm >= LEAST

          line(:arm, [arm, 0].max, girth: mm(:girth), back: mm(:back_panel), front: mm(:front_plan))
          note(:no_arm, :stop, least: Rational(LEAST))
          sheet(size: nil)
        end
      end
    end
  end
end

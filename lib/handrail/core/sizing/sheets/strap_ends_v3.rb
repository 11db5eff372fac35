# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # Strap ends as StrapEnds has them, in whole mm: nobody cuts a tenth, and what is cut less can be cut again.
      class StrapEndsV3 < StrapEnds
        private

        def print(mm) = super(Rational(mm).floor.to_r)
      end
    end
  end
end

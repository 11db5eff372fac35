# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # The strut of a push against pain: from the hip crest to the upper pad, which ends about 5 cm (2 in)
      # below the armpit (common practice, no source). A trunk too short for it is said.
      class Strut < SheetMaker
        INPUTS = { height: :length }.freeze
        # below the armpit, in mm
        BELOW = 50
        # the shortest that still has an arm to push with, in mm (common practice, no source)
        LEAST = 100

        def compute
          length = mm(:height) - BELOW
          line(:strut, length, height: mm(:height), below: Rational(BELOW))
          if length < LEAST
            note(:short, :stop, least: Rational(LEAST))
            return sheet(size: nil)
          end

          note(:pad)
          sheet(size: "strut #{print(length)}")
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # A belt as SupportBeltV3 has it; who has no stoma has no opening cut, and none is placed for them.
      class SupportBeltV4 < SupportBeltV3
        private

        def across = (super unless input(:pouch) == "none")
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # A belt as SupportBelt has it; a lying girth above the standing one is read again, and an opening that
      # comes near an edge of the belt is not made.
      class SupportBeltV3 < SupportBelt
        # the least of the belt that stays above and below its opening, in mm (common practice, no source)
        RIM = 10

        private

        def girth
          super
          note(:lying_larger, :stop, by: -reduction) if reduction.negative?
        end

        def stock_width
          width = super
          return width unless width && input(:edge_to_stoma) && input(:weld)

          opening = input(:openings).map(&:mm).sort.find { |one| one >= mm(:weld) + EASE.min } or
            return width
          half = opening / 2
          below = mm(:edge_to_stoma) - half
          above = width - mm(:edge_to_stoma) - half
          if [below, above].min < RIM
            note(
              :cuts_edge,
              :stop,
              below: [below, 0].max,
              above: [above, 0].max,
              least: Rational(RIM)
            )
          end
          width
        end
      end
    end
  end
end

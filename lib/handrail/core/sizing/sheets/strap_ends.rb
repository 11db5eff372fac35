# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # Where a strap's end lands. From its slot on the outer midline a strap goes round behind the
      # limb and ends at the front, where the hand finds it: three quarters of the way round (common
      # practice, no source). Ending at the inner side the thighs rub it off; past the front it can
      # not be reached.
      class StrapEnds < SheetMaker
        INPUTS = {
          thigh: :length,
          calf: :length,
          thigh_strap: :length,
          calf_strap: :length,
          tab: :length
        }.freeze
        WAY = Rational(3, 4)

        def compute
          @sizes = []
          strap(:thigh, mm(:thigh), mm(:thigh_strap))
          strap(:calf, mm(:calf), mm(:calf_strap))
          sheet(size: @sizes.join(", "), drawn: -> { piece })
        end

        private

        def strap(name, girth, length)
          need = (WAY * girth) + mm(:tab)
          off = length - need
          line(:"#{name}_needed", need, girth: girth, tab: mm(:tab))
          if off.negative?
            note(:"#{name}_short", :look_again, by: -off)
            @sizes << "#{name} strap #{print(-off)} longer"
          else
            line(:"#{name}_trim", off)
            @sizes << "#{name} strap trimmed by #{print(off)}"
          end
        end

        # the two limbs cut across, front at the top, outer side on the right
        def piece
          radius = [mm(:thigh), mm(:calf)].map { |girth| girth.to_f / (2 * Math::PI) }
          centres = [radius[0] + 20, (2 * radius[0]) + radius[1] + 80]
          shapes =
            [%i[thigh thigh_strap], %i[calf calf_strap]].each_with_index
              .flat_map do |(limb, strap), i|
              covered = 360 * (mm(strap) - mm(:tab)).to_f / mm(limb)
              [
                [:ring, centres[i], radius[0] + 20, 2 * radius[i]],
                [:arc, centres[i], radius[0] + 20, radius[i] + 6, 90, 90 + [covered, 345].min],
                [:label, centres[i] - 18, radius[0] + 26, limb.to_s],
                [:label, centres[i] - 14, radius[0] + 20 - radius[i] - 14, "front"]
              ]
            end
          Piece[
            width: centres[1] + radius[1] + 20,
            height: (2 * radius[0]) + 40,
            shapes: shapes.freeze
          ]
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # The arms of a universal belt with back and front panels (common practice, no source): each
      # arm is half of what is left of the girth; it is folded or trimmed equally on both sides, or
      # lengthened by one extension each up to a limit.
      class PanelArms < SheetMaker
        INPUTS = {
          girth: :length,
          back_panel: :length,
          front_plan: :length,
          plain_to: :length,
          extended_to: :length,
          belt_width: :word,
          join: :length
        }.freeze

        def compute
          line(:arm, arm, girth: mm(:girth), back: mm(:back_panel), front: mm(:front_plan))
          return made_to_measure if mm(:girth) > mm(:extended_to)

          mm(:girth) > mm(:plain_to) ? extended : plain
        end

        private

        def arm = (mm(:girth) - mm(:back_panel) - mm(:front_plan)) / 2
        # the arm as the belt comes: it reaches the largest girth that it serves without extensions
        def supplied = (mm(:plain_to) - mm(:back_panel) - mm(:front_plan)) / 2
        def belt = "#{input(:belt_width)} belt"

        def plain
          spare = supplied - arm
          line(:supplied, supplied, reach: mm(:plain_to))
          line(:fold, spare)
          note(:fold)
          note(:little, :look_again) if spare < 20
          sheet(
            size: "#{belt}, no extension",
            drawn: -> { piece(spare.positive? ? [[:fold, arm.to_f]] : []) },
            worn: worn
          )
        end

        def extended
          extra = arm - supplied
          line(:short, supplied, by: extra)
          line(:extension, extra + mm(:join), by: extra, join: mm(:join))
          note(:extension)
          sheet(
            size: "#{belt}, one extension each arm",
            drawn: -> { piece([[:fold, supplied.to_f]]) },
            worn: worn
          )
        end

        def made_to_measure
          note(:out_of_reach, :stop, girth: mm(:girth), reach: mm(:extended_to))
          sheet(size: nil, drawn: nil)
        end

        # on the body the arms end at the front panel, half of it on each side of the middle
        def worn
          half = mm(:front_plan).to_f / 2
          Worn[seams: [-half, half]]
        end

        # both arms and the back panel, laid flat
        def piece(folds)
          height = input(:belt_width) == "slim" ? 150.0 : 200.0
          arm_length = [arm, supplied].max.to_f
          back = mm(:back_panel).to_f
          length = (2 * arm_length) + back
          used = arm.to_f
          shapes = [
            [:outline, [[0, 0], [length, 0], [length, height], [0, height]]],
            [:fold, arm_length, 0, arm_length, height],
            [:fold, arm_length + back, 0, arm_length + back, height],
            [:label, arm_length + 10, height - 18, "back panel"],
            [:dim, arm_length - used, height + 36, arm_length, height + 36, print(arm)],
            [
              :dim,
              arm_length + back,
              height + 36,
              arm_length + back + used,
              height + 36,
              print(arm)
            ],
            [:dim, arm_length, -26, arm_length + back, -26, print(mm(:back_panel))]
          ]
          folds.each do |kind, at|
            shapes << [kind, arm_length - at, 0, arm_length - at, height] <<
              [kind, arm_length + back + at, 0, arm_length + back + at, height]
          end
          Piece[width: length, height: height, shapes: shapes.freeze]
        end
      end
    end
  end
end

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
          line(
            "Each arm",
            arm,
            "(girth #{print(mm(:girth))} less back panel #{print(mm(:back_panel))} less front " \
              "#{print(mm(:front_plan))}) / 2"
          )
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
          line("Arm as it comes", supplied, "serves up to #{print(mm(:plain_to))} of girth")
          line("Fold or trim, each side", spare, "the same on both sides")
          note("Fold now; trim only when no later change is expected.")
          if spare < 20
            note(
              "It leaves little arm to fold. Look at the travel left in the handles.",
              :look_again
            )
          end
          sheet(
            size: "#{belt}, no extension",
            drawn: -> { piece(spare.positive? ? [[:fold, arm.to_f]] : []) },
            worn: worn
          )
        end

        def extended
          extra = arm - supplied
          line("Arm as it comes", supplied, "too short by #{print(extra)} on each side")
          line(
            "Extension, each arm",
            extra + mm(:join),
            "#{print(extra)} and #{print(mm(:join))} under the belt to join it"
          )
          note("One extension on each arm, equal lengths.")
          sheet(
            size: "#{belt}, one extension each arm",
            drawn: -> { piece([[:fold, supplied.to_f]]) },
            worn: worn
          )
        end

        def made_to_measure
          note(
            "#{print(mm(:girth))} is above #{print(mm(:extended_to))}: no belt with extensions reaches. Made to " \
              "measure.",
            :stop
          )
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

# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # The levels of a knee-ankle-foot orthosis above the floor (girth levels 20 cm above and below
      # mid patella: common practice, no source), and the foot plate to trim.
      class KafoLevels < SheetMaker
        INPUTS = {
          patella: :length,
          condyle: :length,
          malleolus: :length,
          foot: :length,
          foot_width: :length,
          condyle_width: :length,
          malleolus_width: :length,
          toe_room: :length,
          thigh_girth: :length?,
          calf_girth: :length?,
          ankle_girth: :length?
        }.freeze
        STEP = 200
        GIRTHS = %i[thigh_girth calf_girth ankle_girth].freeze
        # the levels as they are written beside the drawing
        NAMES = {
          thigh: "Thigh level",
          patella: "Mid patella",
          knee: "Knee joint",
          calf: "Calf level",
          ankle: "Ankle joint"
        }.freeze

        def compute
          levels.each { |key, at, figures| line(key, at, **figures) }
          GIRTHS.each { |key| line(key, mm(key)) if input(key) }
          line(:foot_plate, mm(:foot) + mm(:toe_room), room: mm(:toe_room))
          line(:foot_width, mm(:foot_width))
          order_of_levels
          sheet(
            size: @notes.any? { |n| n.state == :stop } ? nil : "made to measure",
            drawn: -> { piece }
          )
        end

        private

        def levels
          @levels ||= [
            [:thigh, mm(:patella) + STEP, {}],
            [:patella, mm(:patella), {}],
            [:knee, mm(:condyle), { width: mm(:condyle_width) }],
            [:calf, mm(:patella) - STEP, {}],
            [:ankle, mm(:malleolus), { width: mm(:malleolus_width) }]
          ]
        end

        def order_of_levels
          apart = (mm(:condyle) - mm(:patella)).abs
          note(:condyles, :look_again, apart: apart) if apart > 50
          note(:malleolus, :stop) unless mm(:malleolus) < mm(:patella) - STEP
        end

        # the leg from the side, toes to the left, with cuffs, joints and foot plate at their levels
        def piece
          @top = (levels.first[1] + 60).to_f
          shapes = [[:limb, limb], *orthosis, [:fold, 0, @top, HEEL + 40, @top], *names]
          Piece[width: HEEL + 260, height: @top, shapes: shapes.freeze]
        end

        # from the toes (x) to the back of the heel, mm; how far names stand apart
        HEEL = 320
        APART = 44
        private_constant :HEEL, :APART

        # The outline of this wearer's leg: the figure's, stretched to the height of the patella and
        # bent to the girths.
        def limb
          front = outline.map { |y, left, _| [left, y] }
          back = outline.reverse.map { |y, _, right| [right, y] }
          toe = HEEL - mm(:foot).to_f
          foot = [
            [back.last[0] + 14, @top - 30],
            [HEEL, @top - 12],
            [HEEL - 8, @top],
            [toe + 8, @top],
            [toe, @top - 12],
            [toe + 22, @top - 26],
            [front.first[0] - 30, @top - 56]
          ]
          [*front.reverse, front.first, *foot.reverse, *back.reverse].uniq
        end

        # [y, left, right] from the ankle up
        def outline
          @outline ||=
            begin
              figure = Anatomy::Figure.fetch("leg_side")
              stretch = mm(:patella).to_f / PATELLA
              steps = figure.silhouette(figure.profile(known(stretch)), traced: true)
              middle = HEEL - 20 - steps.first[2]
              steps
                .map do |level, left, right|
                  [@top - (level * stretch), middle + left, middle + right]
                end
                .select { |y, _, _| y >= 0 }
            end
        end

        # the height of mid patella on the figure, mm
        PATELLA = 435.0
        private_constant :PATELLA

        # girths that were read, at their levels on the figure
        def known(stretch)
          {
            thigh_girth: mm(:patella) + STEP,
            calf_girth: mm(:patella) - STEP,
            ankle_girth: mm(:malleolus) + 30
          }.filter_map { |girth, at| [at.to_f / stretch, mm(girth).to_f] if input(girth) }
        end

        def orthosis
          upright =
            %i[thigh knee calf ankle]
              .zip(levels.values_at(0, 2, 3, 4))
              .to_h { |key, (_, at, _)| [key, at.to_f] }
          line = upright.transform_values { |at| [middle_at(at), @top - at] }
          sole = [
            [:strip, [[HEEL - mm(:foot).to_f - mm(:toe_room).to_f, @top + 4], [HEEL, @top + 4]]],
            [:strip, [line[:ankle], [line[:ankle][0], @top + 4]]]
          ]
          cuffs =
            %i[thigh calf].map { |key| [:cuff, *edges_at(upright[key]), @top - upright[key], 44] }
          [
            *cuffs,
            [:strip, line.values],
            *sole,
            [:ring, *line[:knee], 22],
            [:ring, *line[:ankle], 22]
          ]
        end

        def edges_at(level) = outline.min_by { |y, _, _| (y - (@top - level)).abs }.drop(1)
        def middle_at(level) = edges_at(level).sum / 2

        # names beside the leg, with a line to their level
        def names
          named = -APART
          levels.flat_map do |key, at, _|
            y = @top - at.to_f
            named = [y, named + APART].max
            [
              [:fold, edges_at(at.to_f).last + 6, y, HEEL + 24, named],
              [:label, HEEL + 30, named + 9, "#{NAMES.fetch(key)} #{print(at)}"]
            ]
          end + [[:label, HEEL + 50, @top - 8, "floor"]]
        end
      end
    end
  end
end

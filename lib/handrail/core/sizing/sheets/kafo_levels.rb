# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # The levels of a knee-ankle-foot orthosis above the floor (girth levels 20 cm above and below mid patella:
      # common practice, no source), and the foot plate to trim.
      class KafoLevels < SheetMaker
        INPUTS = { patella: :length, condyle: :length, malleolus: :length, foot: :length, foot_width: :length, condyle_width: :length,
                   malleolus_width: :length, toe_room: :length, thigh_girth: :length?, calf_girth: :length?,
                   ankle_girth: :length? }.freeze
        STEP = 200

        def compute
          levels.each { |name, at, how| line(name, at, how) }
          girths
          line("Foot plate trimmed to", mm(:foot) + mm(:toe_room),
               "foot length and #{print(mm(:toe_room))} for the toes; long can be trimmed, short is lost")
          line("Foot plate width", mm(:foot_width), "across the balls")
          order_of_levels
          sheet(size: @notes.any? { |n| n.state == :stop } ? nil : "made to measure", piece: piece)
        end

        private

        def levels
          @levels ||= [["Thigh level", mm(:patella) + STEP, "20 cm above mid patella"], ["Mid patella", mm(:patella), "from the floor"],
                       ["Knee joint", mm(:condyle), "condyles, width #{print(mm(:condyle_width))}"],
                       ["Calf level", mm(:patella) - STEP, "20 cm below mid patella"],
                       ["Ankle joint", mm(:malleolus), "malleoli, width #{print(mm(:malleolus_width))}"]]
        end

        def girths
          { "Thigh" => :thigh_girth, "Calf" => :calf_girth, "Ankle" => :ankle_girth }.each do |name, girth|
            line("#{name} girth", mm(girth), "at the #{name.downcase} level") if input(girth)
          end
        end

        def order_of_levels
          if (mm(:condyle) - mm(:patella)).abs > 50
            note("The condyles read #{print((mm(:condyle) - mm(:patella)).abs)} from mid patella. Feel for them again.",
                 :look_again)
          end
          return if mm(:malleolus) < mm(:patella) - STEP

          note("The malleolus can not stand above the calf level. One of the two heights is wrong: read both again.",
               :stop)
        end

        # the levels on a rule from the floor up; names that would touch are set apart
        def piece
          height = (levels.first[1] + 60).to_f
          shapes = [[:outline, [[0, 0], [60, 0], [60, height], [0, height]]], [:fold, -40, height, 320, height],
                    [:label, 210, height - 10, "floor"]]
          named = -APART
          levels.each do |name, at, _|
            y = height - at.to_f
            named = [y, named + APART].max
            shapes << [:fold, 0, y, 70,
                       y] << [:fold, 70, y, 104, named] << [:label, 110, named + 9, "#{name} #{print(at)}"]
          end
          Piece[width: 420, height: height, shapes: shapes.freeze]
        end

        APART = 40
        private_constant :APART
      end
    end
  end
end

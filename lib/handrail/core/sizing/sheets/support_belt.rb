# frozen_string_literal: true

module Handrail
  module Sizing
    # The made-to-measure arithmetic, one sheet a file.
    module Sheets
      # A belt for a hernia beside a stoma (common practice, no source): the girth it is cut to, its
      # stock width, the opening for the pouch and its height, its place across the front, which way
      # the contour lies.
      class SupportBelt < SheetMaker
        INPUTS = {
          standing: :length,
          lying: :length,
          below_to_weld: :length,
          weld: :length?,
          edge_to_stoma: :length?,
          waist: :length,
          hip: :length,
          midline: :length?,
          stoma_side: :word?,
          widths: :lengths,
          openings: :lengths,
          overlap: :length,
          pouch: :word?
        }.freeze
        # lying smaller than standing by more than this: the hernia goes back when lying
        REDUCES = 30
        LEAST_ABOVE_WELD = 20
        BETTER_ABOVE_WELD = 25
        EASE = (3..6)
        # the contour is straight where the two girths are this near
        ALIKE = 10

        def compute
          girth
          width = stock_width
          opening = input(:weld) && stock_opening
          height
          contour = contour_line
          across
          size = [
            width && "width #{print(width)}",
            opening && "opening #{print(opening)}",
            contour
          ].compact.join(", ")
          sheet(
            size: width && (input(:weld).nil? || opening) ? size : nil,
            drawn: width && -> { piece(width, opening) },
            worn: width && input(:edge_to_stoma) && worn(width, opening)
          )
        end

        private

        def reduction = mm(:standing) - mm(:lying)
        def reduces? = reduction > REDUCES
        def round_body = reduces? ? mm(:lying) : mm(:standing)
        def cut_length = round_body + mm(:overlap)

        def girth
          line(:reduction, reduction)
          reduces? ? note(:reduces, by: reduction) : note(:stays_out, :look_again)
          line(reduces? ? :round_lying : :round_standing, round_body)
          line(:cut, cut_length, overlap: mm(:overlap))
        end

        def stock_width
          need = mm(:below_to_weld)
          widths = input(:widths).map(&:mm).sort
          line(:width_needed, need + BETTER_ABOVE_WELD)
          width =
            widths.find { |w| w >= need + BETTER_ABOVE_WELD } ||
              widths.find { |w| w >= need + LEAST_ABOVE_WELD }
          if width.nil?
            note(:no_width, :stop, least: need + LEAST_ABOVE_WELD)
          else
            line(:width, width, above: width - need)
            narrower = widths.find { |w| w >= need + LEAST_ABOVE_WELD }
            note(:narrower, width: narrower, above: narrower - need) if narrower < width
            note(:scant, :look_again, above: width - need) if width - need < BETTER_ABOVE_WELD
          end
          width
        end

        def stock_opening
          weld = mm(:weld)
          opening = input(:openings).map(&:mm).sort.find { |o| o >= weld + EASE.min }
          line(:opening_needed, :range, from: weld + EASE.min, to: weld + EASE.max)
          if opening.nil?
            note(:no_opening, :stop)
          else
            ease = opening - weld
            line(:opening, opening, ease: ease)
            note(:much_ease, :look_again, ease: ease) if ease > EASE.max
          end
          note(:soft_pouch, :look_again) if input(:pouch) == "trim_to_fit"
          opening
        end

        def height
          return unless input(:edge_to_stoma)

          line(:opening_height, mm(:edge_to_stoma))
        end

        def widest
          difference = mm(:hip) - mm(:waist)
          return :straight if difference.abs <= ALIKE

          difference.positive? ? :down : :up
        end

        # which way the contour lies, as it is ordered
        CONTOURS = {
          down: "widest edge down",
          up: "contour reversed, widest edge up",
          straight: "straight"
        }.freeze
        private_constant :CONTOURS

        def contour_line
          line(:contour, widest, hip: mm(:hip), waist: mm(:waist))
          note(:turned_over, :look_again) if widest == :up
          CONTOURS.fetch(widest)
        end

        # where the middle of the opening lies, from the middle of the front; left is the wearer's
        # left
        def across
          side = input(:stoma_side)
          return unless %w[left right middle].include?(side)

          note(:outside_up)
          return line(:opening_middle, :middle) if side == "middle"
          return note(:no_midline, :look_again) unless input(:midline)

          line(:"opening_#{side}", mm(:midline))
        end

        # the belt lies on the body by the height of the stoma above its lower edge
        def worn(width, opening)
          below = mm(:edge_to_stoma)
          across = { "left" => 1, "right" => -1 }[input(:stoma_side)]
          across = across ? input(:midline) && (across * mm(:midline)) : 0
          Worn[
            below: below.to_f,
            above: (width - below).to_f,
            opening: opening && across && [across.to_f, 0.0, opening.to_f],
            seams: []
          ]
        end

        # mm from the left end of the drawing to the middle of the opening, or nil where its place
        # is not known. The belt lies outside up, so the wearer's left is on the viewer's right; the
        # middle of the front is the middle of the girth.
        def opening_at
          middle = round_body / 2
          case input(:stoma_side)
          when "middle"
            middle
          when "left"
            input(:midline) && (middle + mm(:midline))
          when "right"
            input(:midline) && (middle - mm(:midline))
          end
        end

        def piece(width, opening)
          length = cut_length.to_f
          lean = { down: 1, up: -1, straight: 0 }.fetch(widest) * (width.to_f * 0.14)
          top = [lean, 0].max
          bottom = [-lean, 0].max
          shapes = [
            [
              :outline,
              [[top, 0], [length - top, 0], [length - bottom, width.to_f], [bottom, width.to_f]]
            ],
            [:dim, 0, width.to_f + 40, length, width.to_f + 40, print(cut_length)],
            [:dim, -34, 0, -34, width.to_f, print(width)],
            [:fold, length - mm(:overlap).to_f, 0, length - mm(:overlap).to_f, width.to_f],
            [:label, length - mm(:overlap).to_f + 6, width.to_f * 0.42, "closure"]
          ]
          shapes.concat(hole(width, opening)) if opening && input(:edge_to_stoma) && opening_at
          Piece[width: length, height: width.to_f, shapes: shapes.freeze]
        end

        def hole(width, opening)
          x = opening_at.to_f
          y = width.to_f - mm(:edge_to_stoma).to_f
          [
            [:hole, x, y, opening.to_f],
            [
              :dim,
              x + (opening.to_f / 2) + 26,
              y,
              x + (opening.to_f / 2) + 26,
              width.to_f,
              print(mm(:edge_to_stoma))
            ],
            [
              :label,
              x - (opening.to_f / 2),
              y - (opening.to_f / 2) - 10,
              "opening #{print(opening)}"
            ]
          ]
        end
      end
    end
  end
end

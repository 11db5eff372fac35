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
          contour = contour_sentence
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
          line("Standing less lying", reduction, "two girths in line with the stoma")
          if reduces?
            note(
              "Lying is #{print(reduction)} smaller: the hernia goes back when lying. Fit lying, hernia reduced."
            )
          else
            note(
              "Lying is no more than 3 cm smaller: the hernia does not go back by itself. Fit as the " \
                "prescriber says.",
              :look_again
            )
          end
          line("Round the body", round_body, reduces? ? "the lying girth" : "the standing girth")
          line("Belt cut to", cut_length, "girth and #{print(mm(:overlap))} of closure")
        end

        def stock_width
          need = mm(:below_to_weld)
          widths = input(:widths).map(&:mm).sort
          line(
            "Width needed",
            need + BETTER_ABOVE_WELD,
            "from below the bulge to the weld, and 2.5 cm above it (at least 2 cm)"
          )
          width =
            widths.find { |w| w >= need + BETTER_ABOVE_WELD } ||
              widths.find { |w| w >= need + LEAST_ABOVE_WELD }
          if width.nil?
            note(
              "No stock width is #{print(need + LEAST_ABOVE_WELD)} or more: have the width made.",
              :stop
            )
          else
            line("Stock width", width, "the next one up, #{print(width - need)} above the weld")
            narrower = widths.find { |w| w >= need + LEAST_ABOVE_WELD }
            if narrower < width
              note(
                "Width #{print(narrower)} would keep #{print(narrower - need)} above the weld, still enough " \
                  "where the groin needs room."
              )
            end
            if width - need < BETTER_ABOVE_WELD
              note(
                "#{print(width - need)} above the weld: enough, 2.5 cm would be better.",
                :look_again
              )
            end
          end
          width
        end

        def stock_opening
          weld = mm(:weld)
          opening = input(:openings).map(&:mm).sort.find { |o| o >= weld + EASE.min }
          line(
            "Opening needed",
            "#{print(weld + EASE.min)} to #{print(weld + EASE.max)}",
            "weld to weld and 3 to 6 mm of ease"
          )
          if opening.nil?
            note(
              "No stock opening is large enough for this pouch: have it made. Too tight rubs the pouch.",
              :stop
            )
          else
            ease = opening - weld
            line("Stock opening", opening, "the next one up, #{print(ease)} of ease")
            if ease > EASE.max
              note(
                "#{print(ease)} of ease is much: look whether the bulge comes through.",
                :look_again
              )
            end
          end
          if input(:pouch) == "trim_to_fit"
            note(
              "A soft trim-to-fit pouch could bulge through: add the cover strap over the opening.",
              :look_again
            )
          end
          opening
        end

        def height
          return unless input(:edge_to_stoma)

          line(
            "Opening height",
            mm(:edge_to_stoma),
            "lower belt edge up to the middle of the opening"
          )
        end

        def widest
          difference = mm(:hip) - mm(:waist)
          return :straight if difference.abs <= ALIKE

          difference.positive? ? :down : :up
        end

        def contour_sentence
          said = {
            down: "widest edge down",
            up: "contour reversed, widest edge up",
            straight: "straight"
          }.fetch(widest)
          line(
            "Contour",
            said.delete_prefix("contour "),
            "hip #{print(mm(:hip))}, waist #{print(mm(:waist))}"
          )
          if widest == :up
            note(
              "Waist wider than hips: the belt is turned over, widest edge up. Look twice before cutting.",
              :look_again
            )
          end
          said
        end

        # where the middle of the opening lies, from the middle of the front; left is the wearer's
        # left
        def across
          if %w[left right middle].include?(input(:stoma_side))
            note(
              "The opening is drawn outside up, for a belt that fastens in the middle of the back. Where " \
                "this one fastens " \
                "elsewhere, hold it on the wearer and mark the opening there."
            )
          end
          case input(:stoma_side)
          when "middle"
            line("Opening across", "in the middle of the front", "seen from the front")
          when "left", "right"
            unless input(:midline)
              return(
                note(
                  "How far the stoma is from the midline is still to be read: the opening can not be cut.",
                  :look_again
                )
              )
            end

            line(
              "Opening across",
              mm(:midline),
              "from the middle of the front to the wearer's #{input(:stoma_side)}"
            )
          end
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

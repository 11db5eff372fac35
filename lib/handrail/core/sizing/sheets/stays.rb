# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # Which casings the stays go into, how they are marked, and how long they are (common
      # practice, no source). Rigid stays only where the prescription says so.
      class Stays < SheetMaker
        INPUTS = {
          kind: :word,
          count: :word?,
          casings: :number,
          back: :length,
          lengths: :lengths,
          build: :word?
        }.freeze

        def compute
          count = number
          used = chosen(count)
          return flexible if count.zero?

          line(:stays, "#{count} #{input(:kind)}")
          line(count == 2 ? :pair : :pairs, used.join(", "), casings: input(:casings).to_i)
          line(:marks, marks(count).join(", "))
          length = stay_length
          note(:shaped)
          sheet(
            size: length && "#{count} #{input(:kind)} stays of #{print(length)}",
            drawn: length && -> { piece(used, marks(count), length) }
          )
        end

        private

        def prescribed? = input(:kind) == "rigid"

        def number = prescribed? ? (input(:count) || (input(:build) == "large" ? 4 : 2)).to_i : 0

        # the middle pair, or the two middle pairs
        def chosen(count)
          middle = input(:casings).to_i / 2
          (((middle - (count / 2)) + 1)..(middle + (count / 2))).to_a
        end

        def marks(count) = count == 2 ? %w[L R] : (1..count).to_a

        def flexible
          line(prescribed? ? :stays : :own_stays, :flexible)
          note(:flexible)
          sheet(size: "flexible stays", drawn: nil)
        end

        def stay_length
          length = input(:lengths).map(&:mm).sort.reverse.find { |l| l <= mm(:back) }
          if length
            line(:length, length, back: mm(:back))
          else
            note(:too_long, :look_again, back: mm(:back))
          end
          length
        end

        # seen from behind, wearer's left on the viewer's left
        def piece(used, marks, length)
          casings = input(:casings).to_i
          gap = 36.0
          height = length.to_f + 40
          width = gap * (casings + 1)
          shapes = [[:outline, [[0, 0], [width, 0], [width, height], [0, height]]]]
          (1..casings).each do |i|
            x = gap * i
            shapes << [:fold, x - 12, 10, x - 12, height - 10] <<
              [:fold, x + 12, 10, x + 12, height - 10]
            next unless (position = used.index(i))

            shapes << [
              :outline,
              [[x - 8, 20], [x + 8, 20], [x + 8, 20 + length.to_f], [x - 8, 20 + length.to_f]]
            ] << [:mark, x, 44, marks[position].to_s]
          end
          shapes << [:dim, width + 30, 20, width + 30, 20 + length.to_f, print(length)]
          Piece[width: width, height: height, shapes: shapes.freeze]
        end
      end
    end
  end
end

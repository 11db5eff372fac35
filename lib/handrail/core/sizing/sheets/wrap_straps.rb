# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # How many straps an adjustable wrap needs on this leg, the ones to add for a long leg, and
      # the pressure to aim at under each: 45 to 50 mmHg at the lowest down to about 30 at the top,
      # never rising upward (common practice, no source).
      class WrapStraps < SheetMaker
        INPUTS = {
          length: :length,
          ankle: :length,
          below_knee: :length,
          strap_width: :length,
          strap_overlap: :length,
          supplied: :number,
          closure: :length
        }.freeze
        LOWEST = 47
        TOP = 30

        # mmHg aimed at under strap i of n, from the bottom
        def self.target(i, n) = n == 1 ? LOWEST : (LOWEST - ((LOWEST - TOP) * i / (n - 1.0))).round

        def compute
          return no_pitch unless pitch.positive?

          line(:cover, mm(:length))
          line(:needed, needed.to_s, width: mm(:strap_width), overlap: mm(:strap_overlap))
          line(:supplied, :straps, count: input(:supplied).to_i)
          extra = needed - input(:supplied).to_i
          extra.positive? ? added(extra) : enough(-extra)
          line(:aim, (0...needed).map { |i| self.class.target(i, needed) }.join(", "))
          sheet(
            size:
              if extra.positive?
                "#{extra} #{extra == 1 ? "strap" : "straps"} added"
              else
                "straps as supplied"
              end,
            drawn: -> { piece },
            count: needed
          )
        end

        private

        def pitch = mm(:strap_width) - mm(:strap_overlap)

        def no_pitch
          note(:no_pitch, :stop, width: mm(:strap_width), overlap: mm(:strap_overlap))
          sheet(size: nil)
        end

        def needed = [((mm(:length) - mm(:strap_width)) / pitch).ceil + 1, 1].max

        def added(extra)
          cut = mm(:below_knee) + mm(:closure)
          line(:added, cut, girth: mm(:below_knee), closure: mm(:closure))
          note(:added, count: extra)
        end

        def enough(spare) = spare.zero? ? note(:enough) : note(:left_over, count: spare)

        def piece
          length = mm(:length).to_f
          n = needed
          shapes =
            Array
              .new(n) do |i|
                low = length - (i * pitch.to_f)
                share = i / [n - 1, 1].max.to_f
                half =
                  (mm(:ankle).to_f + ((mm(:below_knee) - mm(:ankle)).to_f * share)) / (2 * Math::PI)
                top = [low - mm(:strap_width).to_f, 0].max
                [
                  [
                    :outline,
                    [[150 - half, top], [150 + half, top], [150 + half, low], [150 - half, low]]
                  ],
                  [:label, 236, ((top + low) / 2) + 8, "#{i + 1}: #{self.class.target(i, n)} mmHg"]
                ]
              end
              .flatten(1)
          shapes << [:dim, -12, 0, -12, length, print(mm(:length))]
          Piece[width: 400, height: length, shapes: shapes.freeze]
        end
      end
    end
  end
end

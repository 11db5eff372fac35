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

          line("To cover", mm(:length), "ankle to below the knee crease")
          line(
            "Straps needed",
            needed.to_s,
            "#{print(mm(:strap_width))} wide, #{print(mm(:strap_overlap))} over the one below"
          )
          line("Comes with", "#{input(:supplied).to_i} straps", "this wrap")
          extra = needed - input(:supplied).to_i
          extra.positive? ? added(extra) : enough(-extra)
          line(
            "Aim at, from the bottom",
            (0...needed).map { |i| self.class.target(i, needed) }.join(", "),
            "mmHg under each strap, never rising upward"
          )
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
          note(
            "Straps #{print(mm(:strap_width))} wide can not lie #{print(mm(:strap_overlap))} over one another. " \
              "Look at the product.",
            :stop
          )
          sheet(size: nil)
        end

        def needed = [((mm(:length) - mm(:strap_width)) / pitch).ceil + 1, 1].max

        def added(extra)
          line(
            "Added straps cut to",
            mm(:below_knee) + mm(:closure),
            "girth below the knee #{print(mm(:below_knee))} and #{print(mm(:closure))} of closure"
          )
          note(
            "A longer leg: add #{extra} #{extra == 1 ? "strap" : "straps"} at the top rather than ordering a " \
              "special."
          )
        end

        def enough(spare)
          note(
            if spare.zero?
              "The straps it comes with reach."
            else
              "#{spare} #{spare == 1 ? "strap is" : "straps are"} left over: fit from the ankle up and leave " \
                "the top free of the knee crease."
            end
          )
        end

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

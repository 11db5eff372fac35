# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # Stays as Stays has them; never more than there are casings, and the same on both sides of the spine
      # where there is a casing on it.
      class StaysV2 < Stays
        def compute
          count = number
          return super if count.zero? || count <= pairs * 2

          note(:no_casings, :stop, count: count, casings: input(:casings).to_i)
          sheet(size: nil)
        end

        private

        # casings on each side of the spine
        def pairs = input(:casings).to_i / 2

        # counted from the wearer's left: the nearest to the spine on both sides; one that lies on it stays
        # empty
        def chosen(count)
          return super if input(:casings).to_i.even?

          middle = pairs + 1
          near = (1..(count / 2)).to_a
          near.reverse.map { |i| middle - i } + near.map { |i| middle + i }
        end
      end
    end
  end
end

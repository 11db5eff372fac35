# frozen_string_literal: true

module Handrail
  module Fitting
    # What a strap presses when it is pulled just to its mark on the limb as it is today. Lined-up
    # marks are the least pull: they were drawn where the strap pressed as it should. On a limb that
    # has become thinner the same length of strap presses less (see Compression::Thinner), on a fuller
    # one more, and then even the least pull may be too much.
    #
    #   pull = LeastPull[number: 2, was: 44, girth_then: 372.0, girth_now: 360.0, target: 44, within: 3, stretch: 0.3]
    #   pull.state # => :below
    #
    # number - of the strap, from the lowest up; was - mmHg when the mark was drawn; girth_then,
    # girth_now - mm at its height; target, within - mmHg of the family's line; stretch - of the strap as it is
    # worn, 0 to 1
    LeastPull =
      Value.new(:number, :was, :girth_then, :girth_now, :target, :within, :stretch) do
        # mmHg
        def pressure
          share = 1 - (girth_now / girth_then.to_f)
          Compression::Thinner.pressure(was.to_f, stretch: stretch, share: share)
        end

        # :below its band, :above it, or :within
        def state
          off = pressure - target.to_f
          return :within if off.abs <= within

          off.negative? ? :below : :above
        end
      end
  end
end

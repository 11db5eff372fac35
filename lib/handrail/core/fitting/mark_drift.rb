# frozen_string_literal: true

module Handrail
  module Fitting
    # How far a strap is pulled past its mark, held against how far its closure still holds. Lined-up
    # marks are the least pull; as the limb empties the ends move past one another. That is good
    # news, until the closure is used up: then the device is too large. (Common practice, no source;
    # that three quarters are worth a word is ours.)
    #
    #   MarkDrift[field: field, past: 30, reach: 35, at: time].state # => :near
    MarkDrift =
      Value.new(:field, :past, :reach, :at) do
        # field - the family's setting; past - mm past the mark, at the newest look; reach - mm past
        # the mark up to which the closure holds; at - when it was read.
        # Returns :within, :near from three quarters of the reach on, or :out at its end.
        def state
          return :out if past >= reach

          past >= reach * MarkDrift::NEAR ? :near : :within
        end

        def within? = state == :within

        # mm that are left, never less than none
        def left = [reach - past, 0].max
      end
    MarkDrift::NEAR = 3r / 4
  end
end

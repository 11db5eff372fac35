# frozen_string_literal: true

module Handrail
  module Measuring
    # One reading of a tape. Posture and tension are part of it.
    #
    # site - site key; side - "left", "right" or nil; posture, tension - words or nil when not
    # stated; length - a Length; typed - as the fitter wrote it, unit - the unit that it was read
    # in, where that is known; struck - true when it was struck out (it is kept, and never used).
    Reading =
      Value.new(:site, :side, :posture, :tension, :length, :typed, :struck, :unit) do
        # A reading as it is kept: a row of readings with its value in mm.
        def self.of(row)
          self[
            **row.slice(:site, :side, :posture, :tension, :typed),
            length: Quantity::Length.mm(row[:value_mm].to_r),
            struck: false
          ]
        end

        def mm = length.mm
        def used? = !struck
      end
  end
end

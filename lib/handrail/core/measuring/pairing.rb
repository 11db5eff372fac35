# frozen_string_literal: true

module Handrail
  module Measuring
    # Two readings that belong together: left and right, or standing and lying. A difference is a
    # finding to look at, never an error to correct away.
    class Pairing
      # A left-right difference beyond this share of the larger side is looked at (common practice,
      # no source).
      USUAL = 0.05

      # here, there - Repeats; kind - :sides or :postures; names - what the two are called, here
      # first.
      def initialize(here, there, kind:, names:, precision: Precision::PLAIN, site: nil)
        @here = here
        @there = there
        @kind = kind
        @names = names
        @error =
          Followup::ChangeOfGirth::Z *
            Math.hypot(precision.sd(site, here), precision.sd(site, there))
      end

      # here less there, exact, in mm
      def mm = @here.mm - @there.mm

      # Larger than measuring error, 19 times in 20.
      def real? = mm.abs > @error

      # To look at: for sides, more than is usual.
      def unusual? = @kind == :sides && real? && mm.abs > USUAL * [@here.mm, @there.mm].max

      # What is found: code - :same, :within (no more than measuring error), :unusual or :differs; by -
      # mm, never negative; way - :more or :less, here than there; names - what the two are called.
      Finding = Value.new(:code, :by, :way, :names)

      def finding
        Finding[code: code, by: mm.abs, way: mm.positive? ? :more : :less, names: @names]
      end

      private

      def code
        return :same if mm.zero?
        return :within unless real?

        unusual? ? :unusual : :differs
      end
    end
  end
end

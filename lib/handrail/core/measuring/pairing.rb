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

      def sentence
        return "#{@names.join(" and ")} read the same." if mm.zero?

        said =
          "#{@names.first} reads #{
            format("%g", mm.abs.round(1).to_f)
          } mm #{mm.positive? ? "more" : "less"} than #{@names.last}"
        return "#{said}: no more than measuring error." unless real?
        if unusual?
          return "#{said}: more than is usual between two sides. Look why before going on."
        end

        "#{said}."
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Measuring
    # How far a value may be off, as a standard deviation in mm: the measurer's repeatability, and
    # what a tape laid a little off its level or off square does on this wearer. Repeats shrink the
    # first and not the other two: they are read at the same mark.
    class Precision
      # How far a mark is found from where it should be, as a standard deviation in mm (common
      # practice, no source).
      LEVEL = 5
      # The tilt that still looks square, in degrees (common practice, no source).
      TILT = 5

      # repeatability - site key => the fitter's own relative standard deviation of one reading
      # (0.008 is 0.8 %); slopes - site key => change of girth per mm of level on this wearer; tilt
      # - false where tilt is left out.
      def initialize(repeatability: {}, slopes: {}, tilt: false)
        @repeatability = repeatability.dup.freeze
        @slopes = slopes.dup.freeze
        @tilt = tilt
        freeze
      end

      # What the batch contract takes: 1 % of a single reading, nothing else.
      PLAIN = new

      # The clinic's figures with the slopes of a wearer's profile at the sites that have a level.
      # profile - Anatomy::Profile; figure - its name; sites - a Vocabulary.
      def self.of(profile, figure:, repeatability: {}, sites: Anatomy::Vocabulary.default)
        slopes =
          sites
            .select { |site| site.kind == "girth" && site.level && site.figure == figure }
            .to_h { |site| [site.key, profile.slope(site.level.mm)] }
        new(repeatability: repeatability, slopes: slopes, tilt: true)
      end

      # Standard deviation of a value in mm (Float). site - a key; value - Repeats.
      def sd(site, value)
        own = value.sd(relative: @repeatability.fetch(site, Repeats::RELATIVE_SD))
        return own if @slopes.empty? && !@tilt

        Math.sqrt((own**2) + (level(site)**2) + (tilt(site, value)**2))
      end

      # Whether the fitter's own repeatability stands in for the usual 1 %.
      def own?(site) = @repeatability.key?(site)

      private

      def level(site) = @slopes.fetch(site, 0.0) * LEVEL
      def tilt(site, value) = @tilt && @slopes.key?(site) ? value.mm.to_f * TILTED : 0.0

      # what a tape that looks square adds to a girth, as a share of it
      TILTED = Tilt.factor(TILT) - 1
      private_constant :TILTED
    end
  end
end

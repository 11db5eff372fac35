# frozen_string_literal: true

module Handrail
  module Followup
    # The volume of a limb from girths at levels: truncated cones between neighbouring levels, V = h
    # (C1^2 + C1 C2 + C2^2) / (12 pi) (Sander AP, Hajer NM, Hemenway K, Miller AC, Physical Therapy
    # 82, 2002).
    class LimbVolume
      # Severity of an excess over the other side, in percent (International Society of Lymphology,
      # consensus document of 2020, from memory): over 5 and under 20 minimal, to 40 moderate, above
      # it severe.
      def self.severity(percent)
        return if percent.nil? || percent <= 5
        return "minimal" if percent < 20

        percent <= 40 ? "moderate" : "severe"
      end

      attr_reader :girths

      # girths - level in mm => girth in mm, exact; at least two levels. Raises ArgumentError.
      def initialize(girths)
        raise ArgumentError, "a volume needs girths at two levels or more" if girths.size < 2

        @girths = girths.sort.to_h
      end

      def levels = girths.keys

      # Whether another volume was read at exactly the same levels.
      def like?(other) = !other.nil? && levels == other.levels

      # 12 pi times the volume in mm^3, exact: ratios of volumes need no pi.
      def cones
        @cones ||=
          girths
            .each_cons(2)
            .sum { |(low, a), (high, b)| (high - low) * ((a * a) + (a * b) + (b * b)) }
      end

      def ml = cones / (12 * Math::PI * 1000)

      # How much more this is than another, in ml, and in percent of it (exact); nil where the
      # levels differ.
      def more_than(other) = like?(other) ? ml - other.ml : nil
      def percent_more_than(other) = like?(other) ? (cones - other.cones) * 100 / other.cones : nil
    end
  end
end

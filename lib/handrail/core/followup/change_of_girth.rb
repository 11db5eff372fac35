# frozen_string_literal: true

module Handrail
  module Followup
    # One site then and now. A change counts only when it beats the measuring error of both
    # readings.
    class ChangeOfGirth
      # two-sided 95 % point of the standard normal
      Z = 1.96

      attr_reader :site, :before, :now

      # site - its key; before, now - Measuring::Repeats; precision - how far either may be off on
      # this wearer, level and tilt among it, as a Measuring::Precision.
      def initialize(site, before, now, precision: Measuring::Precision::PLAIN)
        @site = site
        @before = before
        @now = now
        @precision = precision
        freeze
      end

      # now less before, exact, in mm
      def mm = now.mm - before.mm

      # Half width of the 95 % band of the difference, in mm: the variances of the two readings add.
      def error = Z * Math.hypot(@precision.sd(site, before), @precision.sd(site, now))

      # True when the change is larger than measuring error alone would make it, 19 times in 20.
      def real? = mm.abs > error
    end
  end
end

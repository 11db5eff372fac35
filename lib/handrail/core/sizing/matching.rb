# frozen_string_literal: true

module Handrail
  module Sizing
    # Reads a size off a chart: the second number of the method "match" (see Methods).
    module Matching
      # As Chart#match.
      def self.call(chart, readings, **how) = chart.match(readings, **how)
    end
  end
end

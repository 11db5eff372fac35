# frozen_string_literal: true

module Handrail
  module Followup
    # When the parts of a device are due for renewal: as many days after they were new, or renewed
    # last, as the family says they last (common practice, no source).
    module PartLife
      # A part with its day. part - Families::Part; side - of which of two devices, else nil; since -
      # Date; due - Date.
      Due = Value.new(:part, :side, :since, :due)

      # parts - Families::Parts; handed_over - Date; renewed - part key => Dates; side - see Due.
      # Returns Dues of those that have a life, the first due first.
      def self.of(parts, handed_over:, renewed: {}, side: nil)
        parts
          .select(&:days)
          .map do |part|
            since = [handed_over, *renewed[part.key]].max
            Due[part: part, side: side, since: since, due: since + part.days.to_i]
          end
          .sort_by(&:due)
      end
    end
  end
end

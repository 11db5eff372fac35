# frozen_string_literal: true

module Handrail
  module Sizing
    # What the sizes next to the chosen one would mean for this wearer.
    module Neighbours
      # beyond this a neighbour is no question any more, in mm
      FAR = 20

      # code - :holds (it would hold the readings too), :ends (the smaller one ends before them) or
      # :begins (the larger one begins after them); size - its Size; edge - where, as the chart
      # writes it; off - how far from there the reading is, in mm; site - the key of the reading's
      # site, nil where the part hangs on one alone.
      Finding = Value.new(:code, :size, :edge, :off, :site)

      # Findings for a part of a match: the smaller neighbour, then the larger one, each held
      # against the reading that lies furthest outside its bands; a neighbour further off than FAR
      # is left out.
      def self.findings(part)
        return [] unless part.size

        { -1 => :ends, 1 => :begins }.filter_map do |step, code|
          position = part.size.position + step
          size = part.part.sizes[position] if position >= 0
          size && finding(part, size, code)
        end
      end

      def self.finding(part, size, code)
        band, value = part.pairs(size).select(&:last).max_by { |b, v| b.outside(v.mm) }
        return unless band

        off = band.outside(value.mm)
        return Finding[code: :holds, size: size] if off.zero?
        return if off > FAR

        Finding[
          code: code,
          size: size,
          edge: Quantity::Length.mm(code == :ends ? band.max : band.min).plain(band.unit),
          off: off,
          site: part.part.demands.one? ? nil : band.site
        ]
      end
      private_class_method :finding
    end
  end
end

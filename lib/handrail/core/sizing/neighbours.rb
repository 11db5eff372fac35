# frozen_string_literal: true

module Handrail
  module Sizing
    # What the sizes next to the chosen one would mean for this wearer.
    module Neighbours
      # Sentences for a part of a match: the smaller neighbour, then the larger one, held against the reading that lies nearest its band.
      def self.sentences(part)
        return [] unless part.size

        [[-1, "bind"], [1, "sit loose and may slip"]].filter_map do |step, means|
          position = part.size.position + step
          size = part.part.sizes[position] if position >= 0
          size && sentence(part, size, step, means)
        end
      end

      def self.sentence(part, size, step, means)
        band, value = part.pairs(size).reject { |_, v| v.nil? }.max_by { |b, v| b.outside(v.mm) }
        return unless band

        off = band.outside(value.mm)
        edge = Quantity::Length.mm(step.negative? ? band.max : band.min).plain(band.unit)
        where = Sizing.site_name(band.site)
        return "#{size} would hold this #{where} too." if off.zero?

        "#{size} #{step.negative? ? 'ends' : 'begins'} at #{edge}: #{format('%g', off.round(1).to_f)} mm too #{step.negative? ? 'small' : 'large'} at the #{where}, it would #{means}."
      end
      private_class_method :sentence
    end
  end
end

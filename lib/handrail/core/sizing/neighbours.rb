# frozen_string_literal: true

module Handrail
  module Sizing
    # What the sizes next to the chosen one would mean for this wearer.
    module Neighbours
      # beyond this a neighbour is no question any more, in mm
      FAR = 20

      # Sentences for a part of a match: the smaller neighbour, then the larger one, each held
      # against the reading that lies furthest outside its bands; a neighbour further off than FAR
      # is left out.
      def self.sentences(part)
        return [] unless part.size

        [[-1, "bind"], [1, "sit loose and may slip"]].filter_map do |step, means|
          position = part.size.position + step
          size = part.part.sizes[position] if position >= 0
          size && sentence(part, size, step, means)
        end
      end

      def self.sentence(part, size, step, means)
        band, value = part.pairs(size).select(&:last).max_by { |b, v| b.outside(v.mm) }
        return unless band

        off = band.outside(value.mm)
        edge = Quantity::Length.mm(step.negative? ? band.max : band.min).plain(band.unit)
        return "#{size} would hold these readings too." if off.zero?
        return if off > FAR

        where =
          (
            if part.part.demands.one?
              ""
            else
              " #{Anatomy::Vocabulary.default[band.site]&.where || "at the #{band.site}"}"
            end
          )
        "#{size} #{step.negative? ? "ends" : "begins"} at #{edge}: #{format("%g", off.round(1).to_f)} mm too " \
          "#{step.negative? ? "small" : "large"}#{where}, it would #{means}."
      end
      private_class_method :sentence
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Sizing
    # What a wearer's readings say on a chart: the verdict, the size, how far from its edges, how
    # sure, and why.
    class Match
      # From the best to the worst.
      VERDICTS = %i[fits overlap between conflict above below unusable].freeze
      SURE = 0.95

      attr_reader :chart, :parts, :precision

      def initialize(chart, parts, precision = Measuring::Precision::PLAIN)
        @chart = chart
        @parts = parts
        @precision = precision
        @size =
          parts.all?(&:size) ? parts.map { |part| part.size.name }.reject(&:empty?).join(" ") : nil
        @pairs = parts.flat_map(&:pairs)
        @shares = (size ? pairs.map { |band, value| [band.site, share(band, value)] } : []).freeze
        @probability = size && @shares.inject(1.0) { |all, (_, share)| all * share }
        freeze
      end

      # Of several parts the worst counts.
      def verdict = parts.map(&:verdict).max_by { |verdict| VERDICTS.index(verdict) }

      # The product size: one size of each part, joined by a space; nil when a part has none.
      attr_reader :size

      # Smallest distance from a value to an edge of the chosen size's bands, in mm, negative
      # outside; nil without a size.
      def margin = size && pairs.map { |band, value| band.margin(value.mm) }.min

      # The probability that the chosen size is right, given the readings' standard deviations:
      # independent dimensions multiply. nil without a size.
      attr_reader :probability

      # What it would be if one more reading of these sites agreed with what is there.
      def probability_after(sites)
        return unless size

        pairs.inject(1.0) do |all, (band, value)|
          all * share(band, sites.include?(band.site) ? value.again : value)
        end
      end

      # The same for every size of every part: part name => { Size => probability }; empty where a
      # reading is missing.
      def probabilities
        parts.to_h do |part|
          [
            part.part.name,
            (
              if part.missing.any?
                {}
              else
                part.part.sizes.to_h { |size| [size, product(part.pairs(size))] }
              end
            )
          ]
        end
      end

      # The chance that a value with this standard deviation lies in a band.
      def share(band, value)
        Measuring::Normal.between(
          band.min.to_f,
          band.max.to_f,
          mean: value.mm.to_f,
          sd: sd(band.site, value)
        )
      end

      # The standard deviation of a value read at a site, in mm.
      def sd(site, value) = precision.sd(site, value)

      # Site keys worth taking again: those whose repeats disagree, and those that carry most of the
      # doubt (at least half of it, largest first). Where there is no size: the sites that are
      # missing, or whose reading is so near the end of the chart that it may belong on it. Empty
      # when the size is sure and the repeats agree.
      def read_again
        (disagreeing + (size ? doubtful : undecided)).uniq
      end

      # What was found, as Remarks: the readings and bands, what decided, how close, what to read
      # again.
      def remarks = Reason.new(self).remarks

      # Remarks on readings of the right site that were taken otherwise than the chart wants.
      def displaced = Reason.new(self).displaced

      # Every value with its chosen band: [[Band, Repeats], ...].
      attr_reader :pairs

      # Demand => Repeats over all parts.
      def values = parts.map(&:values).inject({}, :merge)

      # Demand => readings of that site in another posture or tension.
      def missing = parts.map(&:missing).inject({}, :merge)

      private

      # [site, chance] of each value in the chosen size
      attr_reader :shares

      def product(pairs) = pairs.inject(1.0) { |all, (band, value)| all * share(band, value) }

      def disagreeing = values.reject { |_, value| value.agree? }.map { |demand, _| demand.site }

      def doubtful
        return [] if probability >= SURE

        doubts =
          shares
            .map { |site, share| [site, -Math.log([share, 1e-300].max)] }
            .sort_by { |_, doubt| -doubt }
        half = doubts.sum(&:last) / 2
        sum = 0.0
        doubts.take_while { |_, doubt| (sum < half).tap { sum += doubt } }.map(&:first)
      end

      def undecided
        parts.flat_map do |part|
          near = (part.under + part.over).select { |demand| near_end?(part, demand) }
          (part.missing.keys + near).map(&:site)
        end
      end

      # may the true value lie on the chart after all, with 5 chances in 100 or more?
      def near_end?(part, demand)
        value = part.values[demand]
        part.part.bands(demand).any? { |band| share(band, value) > 1 - SURE }
      end
    end
  end
end

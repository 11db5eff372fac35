# frozen_string_literal: true

module Handrail
  module Sizing
    # A match as a fitter would tell it, in Remarks: what was read, which bands, what decided, how
    # close, what to read again. Lengths are texts in the chart's own unit.
    class Reason
      def initialize(match) = @match = match

      # All of it, an Array of Remarks.
      def remarks
        [*match.parts.flat_map { |part| verdict(part) }, closeness, again].compact
      end

      # Readings of the right site that were taken otherwise than the chart wants, a Remark each.
      def displaced
        match
          .missing
          .reject { |_, others| others.empty? }
          .map { |demand, others| stand_in(demand, others) }
      end

      private

      attr_reader :match

      def remark(code, **figures) = Remark[code: code, figures: figures]

      # the first remark of several parts says which part it is about
      def verdict(part)
        first, *rest = send(part.verdict, part)
        named = part.part.name.empty? || match.parts.one? ? nil : part.part.name
        [first.with(figures: { part: named, **first.figures }), *rest]
      end

      def fits(part)
        bands = part.size.bands.map { |band| part.part.text(band) }
        [remark("fits", readings: readings(part), size: part.size.name, bands: bands)]
      end

      def overlap(part)
        [remark("overlap", readings: readings(part), sizes: names(part.candidates)), rule(part)]
      end

      def between(part)
        homeless = part.homeless.map { |demand| reading(part, demand) }
        [remark("between", homeless: homeless, among: names(part.candidates)), rule(part)]
      end

      def conflict(part)
        says = part.values.keys.map { |demand| [*reading(part, demand), names(part.named(demand))] }
        [remark("conflict", says: says), rule(part)]
      end

      def below(part) = off_chart(part, part.under, "below", :min)
      def above(part) = off_chart(part, part.over, "above", :max)

      def off_chart(part, demands, code, edge)
        demands.map do |demand|
          band = part.part.bands(demand).public_send(edge == :min ? :min_by : :max_by, &edge)
          by = (part.values[demand].mm - band[edge]).abs.round(1).to_f
          remark(code, readings: [reading(part, demand)], by: by, band: band.to_s)
        end
      end

      def unusable(part)
        part.missing.map do |demand, others|
          others.empty? ? remark("no_reading", site: demand.site) : stand_in(demand, others)
        end
      end

      def stand_in(demand, others)
        there = others.map { |one| [one.posture, one.tension] }.uniq
        remark("displaced", site: demand.site, how: demand.how, there: there)
      end

      def closeness
        return unless match.size

        band, value = match.pairs.min_by { |b, v| b.margin(v.mm) }
        upper = (value.mm - band.max).abs < (value.mm - band.min).abs
        remark(
          "closeness",
          size: match.size,
          probability: match.probability,
          by: band.margin(value.mm).abs.round(1).to_f,
          inside: band.hold?(value.mm),
          upper: upper,
          site: band.site
        )
      end

      def again
        sites = match.read_again
        remark("again", sites: sites) unless sites.empty? || match.verdict == :unusable
      end

      def rule(part)
        remark("rule.#{part.rule.name}", site: part.rule.primary, size: part.size.name)
      end

      # [[site, length as the chart writes it], ...]
      def readings(part) = part.values.keys.map { |demand| reading(part, demand) }

      def reading(part, demand)
        unit = part.part.bands(demand).first.unit
        [demand.site, part.values[demand].length.plain(unit)]
      end

      def names(sizes) = sizes.map(&:name)
    end
  end
end

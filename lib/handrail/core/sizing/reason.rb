# frozen_string_literal: true

module Handrail
  module Sizing
    # A match in sentences that a fitter would say: what was read, which bands, what decided, how
    # close, what to read again.
    class Reason
      def initialize(match) = @match = match

      def to_s = sentences.join(" ")

      # All of it, an Array of sentences.
      def sentences = [*@match.parts.flat_map { |part| verdict(part) }, closeness, again].compact

      # Readings of the right site that were taken otherwise than the chart wants, a sentence each.
      def displaced
        match
          .missing
          .reject { |_, others| others.empty? }
          .map { |demand, others| stand_in(demand, others) }
      end

      private

      attr_reader :match

      def verdict(part)
        lead = part.part.name.empty? || match.parts.one? ? "" : "#{part.part.name}: "
        first, *rest = Array(send(part.verdict, part))
        ["#{lead}#{lead.empty? ? capital(first) : first}", *rest]
      end

      def fits(part) =
        "#{readings(part)} #{part.values.one? ? "lies" : "all lie"} in #{part.size} (#{bands(part)})."

      def overlap(part)
        [
          "#{readings(part)} #{part.values.one? ? "lies" : "lie"} in #{list(part.candidates)}.",
          "#{rule(part)}: #{part.size}."
        ]
      end

      def between(part)
        gaps = part.homeless.map { |demand| "#{value(part, demand)} lies in no band" }
        [
          *gaps
            .join(" and ")
            .then { |text| "#{text}: it is between #{list(part.candidates, "and")}." },
          "#{rule(part)}: #{part.size}."
        ]
      end

      def conflict(part)
        named =
          part.values.keys.map do |demand|
            "#{value(part, demand)} says #{list(part.named(demand))}"
          end
        [
          "The readings do not agree on a size: #{named.join(", ")}.",
          "#{rule(part)}: #{part.size}."
        ]
      end

      def below(part) = off_chart(part, part.under, "smallest", :min)
      def above(part) = off_chart(part, part.over, "largest", :max)

      def off_chart(part, demands, extreme, edge)
        demands.map do |demand|
          band = part.part.bands(demand).public_send(edge == :min ? :min_by : :max_by, &edge)
          mm = part.values[demand].mm
          "#{value(part, demand)} is #{millimetres((mm - band[edge]).abs)} #{edge == :min ? "under" : "over"} " \
            "the #{extreme} band (#{band}). No size of this chart serves."
        end
      end

      def unusable(part)
        part.missing.map do |demand, others|
          if others.empty?
            "There is no reading of #{Sizing.site_name(demand.site)}."
          else
            stand_in(demand, others)
          end
        end
      end

      def stand_in(demand, others)
        there =
          others.map do |one|
            [one.posture || "posture not stated", one.tension || "tension not stated"].join(", ")
          end
        "The chart wants #{Sizing.site_name(demand.site)} #{demand.how}; the reading there is " \
          "#{there.uniq.join(" and ")}, and can not stand in for it."
      end

      def closeness
        return unless match.size

        band, value = match.pairs.min_by { |b, v| b.margin(v.mm) }
        outside = !band.hold?(value.mm)
        upper = (value.mm - band.max).abs < (value.mm - band.min).abs
        place = [
          outside ? "outside" : "inside",
          "the",
          upper ? "upper" : "lower",
          "edge at",
          Sizing.site_name(band.site)
        ].join(" ")
        "#{chance(match.probability)} that #{match.size} is right: " \
          "#{millimetres(band.margin(value.mm).abs)} #{place}."
      end

      def again
        sites = match.read_again
        return if sites.empty? || match.verdict == :unusable

        "Read #{sites.map { |site| Sizing.site_name(site) }.join(" and ")} again."
      end

      def readings(part) = part.values.keys.map { |demand| value(part, demand) }.join(", ")

      def value(part, demand)
        "#{Sizing.site_name(demand.site)} #{part.values[demand].length.plain(part.part.bands(demand).first.unit)}"
      end

      def bands(part) = part.size.bands.map { |band| part.part.text(band) }.join("; ")
      def rule(part) = part.rule.sentence

      def list(sizes, last = "or")
        sizes
          .map(&:name)
          .then do |names|
            names.size < 2 ? names.first.to_s : "#{names[0..-2].join(", ")} #{last} #{names.last}"
          end
      end

      def capital(text) = "#{text[0].upcase}#{text[1..]}"
      def millimetres(mm) = "#{format("%g", mm.round(1).to_f)} mm"

      def chance(probability)
        return "More than 99 in 100" if probability > 0.995

        hundredths = (probability * 100).round
        hundredths < 1 ? "Less than 1 in 100" : "#{hundredths} in 100"
      end
    end
  end
end

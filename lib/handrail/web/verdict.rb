# frozen_string_literal: true

module Handrail
  module Web
    # The right-hand side of the bench: what the readings say on this product's chart, in words and as tapes.
    class Verdict
      # state - a mark; text - what to say
      Note = Value.new(:state, :text)

      def initialize(record, profile)
        @record = record
        @profile = profile
        @match = record.match
      end

      def size = @match&.size
      def chart? = !@match.nil?

      # One drawing for each reading that the chart asks for.
      def tapes
        @match.parts.flat_map do |part|
          part.part.demands.map do |demand|
            value = part.values[demand]
            Drawings::SizeTape.new(part.part, demand, value: value, sd: value ? @match.sd(value) : 0, chosen: part.size).to_s
          end
        end
      end

      # Whether anything has been read for this chart.
      def begun? = chart? && @match.values.any?

      # "Medium", said as a sentence: "M, but only just: 3 mm under the edge to L."
      def headline
        unless @match.verdict != :unusable
          return @match.parts.flat_map do |part|
            part.missing.keys
          end.map { |demand| "#{Sizing.site_name(demand.site)} is still to be read" }.join(", ")
        end
        return "No size of this chart serves." unless size

        "#{size}#{closeness}"
      end

      def state
        return :not_done if @match.verdict == :unusable
        return :stop unless size

        @match.verdict == :fits && @match.read_again.empty? ? :good : :look_again
      end

      # What to know beside the headline, the most pressing first.
      def notes
        [*verdict_notes, *level_notes, *again, *neighbours].compact
      end

      private

      def closeness
        return ", between two sizes:" if %i[between conflict].include?(@match.verdict)
        return ", one of several that fit:" if @match.verdict == :overlap

        @match.probability > Sizing::Match::SURE ? ", clear of both edges:" : ", but only just:"
      end

      def verdict_notes
        return @match.sentences.first(1).map { |text| Note[state: :stop, text: text] } if size.nil? && @match.verdict != :unusable
        return missing if @match.verdict == :unusable
        return [] if @match.verdict == :fits

        [Note[state: :look_again, text: @match.sentences.first(2).join(" ")]]
      end

      # another posture or tension is there, and can not stand in
      def missing = @match.sentences.grep(/can not stand in/).map { |text| Note[state: :stop, text: text] }

      def level_notes
        @match.parts.flat_map do |part|
          part.values.filter_map do |demand, value|
            site = Anatomy::Vocabulary.default[demand.site]
            next unless site&.level && site.offset && !site.offset.mm.zero?

            text = Measuring::LevelDoubt.new(@profile, site, value).sentence(part.part)
            Note[state: text.include?("would be") ? :look_again : nil, text: text] if text
          end
        end
      end

      def again
        sites = @match.read_again - @match.missing.keys.map(&:site)
        return [] if sites.empty?

        names = sites.map { |site| Sizing.site_name(site) }.join(" and ")
        disagree = @match.values.find { |demand, value| sites.include?(demand.site) && !value.agree? }&.last
        [Note[state: :look_again,
              text: if disagree
                      "The two readings of #{names} differ by #{format('%g',
                                                                       disagree.spread.round(1).to_f)} mm. Take a third."
                    else
                      "Read #{names} again: it would settle most of the doubt."
                    end]]
      end

      def neighbours
        @match.parts.flat_map { |part| Sizing::Neighbours.sentences(part) }.map { |text| Note[text: text] }
      end
    end
  end
end

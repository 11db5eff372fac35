# frozen_string_literal: true

module Handrail
  module Sizing
    # Whom a chart serves: for a set of people the share of each size, of those between sizes and off the scale, and
    # the fewest sizes that serve a wanted share, found exactly.
    class Coverage
      # size names, smallest set first found; served - people; share of all measured
      Fewest = Value.new(:sizes, :served, :share)

      SERVED = %i[fits overlap].freeze
      BETWEEN = %i[between conflict].freeze
      OFF = %i[below above].freeze

      attr_reader :people, :unread

      # matches - one Match a person.
      def initialize(chart, matches)
        @chart = chart
        @matches = matches.reject { |match| match.verdict == :unusable }
        @unread = matches.size - @matches.size
        @people = @matches.size
        freeze
      end

      # size name => number of people for whom it is the size (it holds every reading, and the tie rule takes it),
      # in chart order
      def served
        counts = @matches.select { |match| SERVED.include?(match.verdict) }.map(&:size).tally
        @chart.names.to_h { |name| [name, counts.fetch(name, 0)] }
      end

      def between = @matches.count { |match| BETWEEN.include?(match.verdict) }
      def off_scale = @matches.count { |match| OFF.include?(match.verdict) }
      def share(count) = people.zero? ? 0.0 : count.to_f / people

      # The fewest sizes that hold at least this share of the people measured; nil where all sizes together do not.
      # Every person counts for each size that holds them. Exact: branch and bound over the sizes, with the people
      # grouped by the sizes that hold them.
      def fewest(share = 0.9)
        groups = @matches.map { |match| holding(match) }.reject(&:empty?).tally
        need = (share * people).ceil
        return if people.zero? || groups.values.sum < need

        sizes = groups.keys.flatten.uniq.sort_by { |name| -groups.sum { |names, n| names.include?(name) ? n : 0 } }
        (1..sizes.size).each do |k|
          found = search(sizes, groups, need, k, [], 0)
          return answer(found, groups) if found
        end
      end

      private

      def answer(found, groups)
        served = groups.sum { |names, n| names.intersect?(found) ? n : 0 }
        Fewest[sizes: found.sort_by { |name| @chart.names.index(name) }, served: served, share: share(served)]
      end

      # every product size that holds this person's readings
      def holding(match)
        return [] unless SERVED.include?(match.verdict)

        first, *rest = match.parts.map { |part| part.candidates.map(&:name) }
        first.product(*rest).map { |names| names.reject(&:empty?).join(" ") }
      end

      # a set of k sizes that reaches need, or nil; groups - those not held yet
      def search(sizes, groups, need, k, chosen, served)
        return chosen if served >= need
        return if k.zero?

        gains = sizes.to_h { |name| [name, groups.sum { |names, n| names.include?(name) ? n : 0 }] }
        return if served + gains.values.max(k).sum < need

        ordered = sizes.sort_by { |name| -gains[name] }
        ordered.each_with_index do |name, i|
          rest = groups.reject { |names, _| names.include?(name) }
          found = search(ordered.drop(i + 1), rest, need, k - 1, chosen + [name], served + gains[name])
          return found if found
        end
        nil
      end
    end
  end
end

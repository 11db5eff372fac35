# frozen_string_literal: true

module Handrail
  module Sizing
    # Whom a chart serves: for a set of people the share of each size, of those between sizes and
    # off the scale, and the fewest sizes that serve a wanted share, found exactly.
    class Coverage
      # size names, smallest set first found; served - people; share of all measured; exact -
      # whether no smaller set does: false where there are so many sizes that the search was given
      # up
      Fewest = Value.new(:sizes, :served, :share, :exact)

      # a Match, its verdict, and how many people it is true of
      Found = Value.new(:match, :verdict, :count)
      private_constant :Found

      # how many sets are tried before the search is given up
      TRIED = 60_000

      SERVED = %i[fits overlap].freeze
      BETWEEN = %i[between conflict].freeze
      OFF = %i[below above].freeze

      attr_reader :people, :unread

      # Of people measured. Those whose readings are the same are matched once.
      #
      # people - Arrays of Measuring::Readings
      def self.of(chart, people, rule:)
        matched = {}
        new(chart, people.map { |own| matched[own] ||= chart.match(own, rule: rule) })
      end

      # matches - one Match a person; the same Match may stand for several.
      def initialize(chart, matches)
        @chart = chart
        found =
          matches.tally.map do |match, count|
            Found[match: match, verdict: match.verdict, count: count]
          end
        unusable, @found = found.partition { |one| one.verdict == :unusable }
        @unread = unusable.sum(&:count)
        @people = @found.sum(&:count)
        freeze
      end

      # size name => number of people for whom it is the size (it holds every reading, and the tie
      # rule takes it), in chart order
      def served
        counts = Hash.new(0)
        of(SERVED).each { |one| counts[one.match.size] += one.count }
        @chart.names.to_h { |name| [name, counts[name]] }
      end

      def between = of(BETWEEN).sum(&:count)
      def off_scale = of(OFF).sum(&:count)
      def share(count) = people.zero? ? 0.0 : count.to_f / people

      # The fewest sizes that hold at least this share of the people measured; nil where all sizes
      # together do not. Every person counts for each size that holds them. Exact: branch and bound
      # over the sizes, with the people grouped by the sizes that hold them. Past `tries` sets it is
      # given up, and the size that serves most of those left is taken again and again: a set that
      # serves, perhaps not the smallest.
      def fewest(share = 0.9, tries: TRIED)
        groups = Hash.new(0)
        of(SERVED).each { |one| groups[holding(one.match)] += one.count }
        need = (share * people).ceil
        return if people.zero? || groups.values.sum < need

        sizes =
          groups.keys.flatten.uniq.sort_by do |name|
            -groups.sum { |names, n| names.include?(name) ? n : 0 }
          end
        found = smallest(sizes, groups, need, tries)
        found ? answer(found, groups, true) : answer(one_by_one(sizes, groups, need), groups, false)
      end

      private

      def of(verdicts) = @found.select { |one| verdicts.include?(one.verdict) }

      def answer(found, groups, exact)
        served = groups.sum { |names, n| names.intersect?(found) ? n : 0 }
        Fewest[
          sizes: found.sort_by { |name| @chart.names.index(name) },
          served: served,
          share: share(served),
          exact: exact
        ]
      end

      # the smallest set that reaches need, or nil where the search was given up
      def smallest(sizes, groups, need, tries)
        left = [tries]
        catch(:given_up) do
          (1..sizes.size)
            .each
            .lazy
            .filter_map { |k| search(sizes, groups, need, k, [], 0, left) }
            .first
        end
      end

      # the size that serves most of those left, until enough are served
      def one_by_one(sizes, groups, need)
        chosen = []
        while groups.values.sum > groups_total(groups, chosen) &&
                groups_total(groups, chosen) < need
          left = groups.reject { |names, _| names.intersect?(chosen) }
          chosen << sizes.max_by { |name| left.sum { |names, n| names.include?(name) ? n : 0 } }
        end
        chosen
      end

      def groups_total(groups, chosen) = groups.sum { |names, n| names.intersect?(chosen) ? n : 0 }

      # every product size that holds this person's readings
      def holding(match)
        first, *rest = match.parts.map { |part| part.candidates.map(&:name) }
        first.product(*rest).map { |names| names.reject(&:empty?).join(" ") }
      end

      # a set of k sizes that reaches need, or nil; groups - those not held yet; left - [tries that
      # are left]
      def search(sizes, groups, need, k, chosen, served, left)
        return chosen if served >= need
        return if k.zero?

        throw(:given_up, nil) if (left[0] -= 1).negative?

        gains = sizes.to_h { |name| [name, groups.sum { |names, n| names.include?(name) ? n : 0 }] }
        return if served + gains.values.max(k).sum < need

        ordered = sizes.sort_by { |name| -gains[name] }
        ordered.each_with_index do |name, i|
          rest = groups.reject { |names, _| names.include?(name) }
          found =
            search(
              ordered.drop(i + 1),
              rest,
              need,
              k - 1,
              chosen + [name],
              served + gains[name],
              left
            )
          return found if found
        end
        nil
      end
    end
  end
end

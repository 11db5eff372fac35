# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # A check that can fail in two directions asks which; each has its own remedies, which move the other way.
      class TwoWays < Law
        law "two_ways", "One remedy for too high and too low makes one of them worse."

        OFF = /\b(how far|difference|off)\b/i
        BOTH =
          /\b(midline|level with|neither|centred on|(just|about)( \d+ \w+)?( \(.*\))? (below|above))\b/i
        # so far from a place, or so long: it can be more or less
        SO_FAR = /\b(fingers?|hands?|cm|mm) (below|above)\b|\b(length|width|height) correct\b/i
        OPPOSITE =
          {
            "up" => "down",
            "forward" => "back",
            "longer" => "shorter",
            "looser" => "tighter",
            "inward" => "outward",
            "straighter" => "softer"
          }.then { |pairs| pairs.merge(pairs.invert) }.freeze

        def look
          family.all_checks.each { |check| check.ways.to_a.any? ? ways(check) : wanting(check) }
          family.problems.each { |problem| of_a_way(problem) }
          shared
        end

        private

        def wanting(check)
          return if check.either || check.final || check.distress

          limits = check.criterion.limits.keys
          between = limits.intersect?(%w[at_least over]) && limits.intersect?(%w[at_most under])
          off =
            check.kind == "length" && check.ask.to_s.match?(OFF) &&
              !check.ask.match?(/how far (down|below|it shifts)/i)
          unless between || off ||
                   (
                     check.kind == "yes_no" &&
                       [BOTH, SO_FAR].any? { |words| check.title.match?(words) }
                   )
            return
          end

          breach("checks.#{check.key}", "it can fail in two ways, and does not ask which")
        end

        def ways(check)
          mends = check.ways.map(&:mend)
          if (mends - ["any"]).uniq != mends - ["any"]
            breach("checks.#{check.key}.ways", "two ways are mended by the same move")
          end
          pair = check.ways.first(2).map(&:mend)
          unless OPPOSITE[pair.first] == pair.last
            breach("checks.#{check.key}.ways", "“#{pair.join("” and “")}” are no opposites")
          end
          check.ways.each do |way|
            if family.problems.any? { |problem|
                 problem.way == way.key && problem.shows_in.to_a.include?(check.key)
               }
              next
            end

            breach("checks.#{check.key}.ways", "no problem is “#{way.label}”")
          end
        end

        def of_a_way(problem)
          checks = problem.shows_in.to_a.filter_map { |key| family.check(key) }
          told = checks.select { |check| check.ways.to_a.any? }
          return if told.empty?
          unless problem.way
            return breach("problems.#{problem.key}", "it does not say which way it is")
          end

          (checks - told.select { |check| check.way(problem.way) }).each do |check|
            breach("problems.#{problem.key}", "“#{check.key}” does not fail that way")
          end
          mend = told.filter_map { |check| check.way(problem.way)&.mend }.first
          problem.remedies.each { |remedy| agrees(problem, remedy, mend) if mend }
        end

        def agrees(problem, remedy, mend)
          return if remedy.last || remedy.moves == mend
          return if remedy.moves.nil? && %w[measure prescriber].include?(remedy.goes_to)

          breach(
            remedy_path(problem, remedy),
            (
              if remedy.moves
                "it moves “#{remedy.moves}”, what is wrong is mended by “#{mend}”"
              else
                "it does not say which way it moves"
              end
            )
          )
        end

        # no remedy under two ways of one check
        def shared
          family
            .problems
            .combination(2) do |one, other|
              next unless one.way && other.way && one.way != other.way
              next unless one.shows_in.to_a.intersect?(other.shows_in.to_a)

              both =
                one.remedies.reject(&:last).map(&:title) &
                  other.remedies.reject(&:last).map(&:title)
              both.each do |title|
                breach("problems.#{other.key}", "“#{title}” stands under both ways")
              end
            end
        end
      end
    end
  end
end

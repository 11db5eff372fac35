# frozen_string_literal: true

module Handrail
  module Sizing
    # Looks a chart over before anybody is measured for it: each finding names its row and what is
    # wrong.
    class ChartCheck
      # kind - under which fault and mend are worded; state - :stop (it can not be used so) or
      # :look_again (it may be meant so); row - index of the row; first - index of the row that was
      # there before, for what is there twice; figures - part, size and site of the row, and what
      # the fault is about: lengths as texts in the row's own unit.
      Finding = Value.new(:kind, :state, :row, :first, :figures)

      # Wrong units that are looked for: the factor, and what it would mean.
      SLIPS = {
        2.54 => :inches,
        1 / 2.54 => :centimetres,
        10.0 => :ten_times,
        0.1 => :a_tenth
      }.freeze
      # how near the factor must be met, as a share
      NEAR = 0.09
      # gaps up to the step of the chart's own tape are how charts are printed
      STEPS = { "in" => Rational(254, 80), "ft" => Rational(254, 80) }.freeze
      STEP = 1
      LARGEST_STEP = Rational(254, 40)

      # rows - Chart::Rows as read, faulty ones too; rule - the TieRule it is used with.
      def initialize(rows, rule: TieRule.new, sites: Anatomy::Vocabulary.default)
        @rows = rows
        @rule = rule
        @sites = sites
      end

      def findings
        @findings ||=
          [
            *reversed,
            *twice,
            *slips,
            *gaps_and_overlaps,
            *unreachable,
            *contradictions,
            *other_ways
          ].sort_by { |f| [f.state == :stop ? 0 : 1, f.row] }
      end

      # Nothing that makes it unusable.
      def usable? = findings.none? { |finding| finding.state == :stop }

      private

      attr_reader :rows

      # row, index - of the row at fault
      def finding(kind, state, row, index, first: nil, **figures)
        about = { part: row.part.to_s, size: row.size, site: row.site, **figures }
        Finding[kind: kind, state: state, row: index, first: first, figures: about]
      end

      def print(mm, row) = Quantity::Length.mm(mm).plain(row.unit)

      def sound?(row) = row.min <= row.max
      def middle(row) = (row.min + row.max).to_f / 2

      # [[row, index], ...] of each part and site, in chart order
      def runs = @runs ||= rows.each_with_index.group_by { |row, _| [row.part.to_s, row.site] }

      def reversed
        each_row { |row| !sound?(row) }.map do |row, i|
          finding(:reversed, :stop, row, i, min: print(row.min, row), max: print(row.max, row))
        end
      end

      def twice
        each_with_key { |row| [row.part.to_s, row.size, row.site] }
          .values
          .reject(&:one?)
          .flat_map do |found|
            found.drop(1).map { |row, i| finding(:twice, :stop, row, i, first: found.first.last) }
          end
      end

      # a band that is a unit's factor away from the others of its site
      def slips
        runs
          .values
          .select { |run| run.size >= 3 }
          .flat_map do |run|
            middles = run.map { |row, _| middle(row) }
            run.each_with_index.filter_map do |(row, i), place|
              expected = expected_middle(middles, place)
              factor =
                expected.positive? &&
                  SLIPS.keys.find { |f| ((middle(row) / expected / f) - 1).abs < NEAR } or next

              finding(
                :unit_slip,
                :stop,
                row,
                i,
                min: print(row.min, row),
                max: print(row.max, row),
                slip: SLIPS[factor],
                near: print(expected.round(0), row)
              )
            end
          end
      end

      # where the middle of a band would lie by its neighbours: between them, or one step beyond
      # them at an end
      def expected_middle(middles, place)
        return (2 * middles[1]) - middles[2] if place.zero?
        return (2 * middles[-2]) - middles[-3] if place == middles.size - 1

        (middles[place - 1] + middles[place + 1]) / 2
      end

      def gaps_and_overlaps
        runs.values.flat_map do |run|
          bands =
            run
              .select { |row, _| sound?(row) }
              .uniq { |row, _| [row.min, row.max] }
              .sort_by { |row, _| row.min }
          step = printed_step(bands)
          bands.each_cons(2).filter_map { |(low, _), (high, i)| beside(low, high, i, step) }
        end
      end

      # the gap that a chart's printing leaves: the tape's own step, or the one small gap that
      # stands between all its sizes
      def printed_step(bands)
        gaps = bands.each_cons(2).map { |(low, _), (high, _)| high.min - low.max }
        own = STEPS.fetch(bands.first&.first&.unit, STEP)
        gaps.size > 1 && gaps.uniq.one? && gaps.first.between?(own, LARGEST_STEP) ? gaps.first : own
      end

      def beside(low, high, index, step)
        gap = high.min - low.max
        if gap > step
          span = { from: print(low.max, high), to: print(high.min, high) }
          finding(:gap, :look_again, high, index, other: low.size, **span)
        elsif gap.negative? && low.size != high.size
          span = { from: print(high.min, high), to: print([low.max, high.max].min, high) }
          finding(:overlap, :look_again, high, index, other: low.size, **span)
        end
      end

      # outside what a body gives, or always beaten by the tie rule
      def unreachable
        outside =
          each_row do |row|
            sound?(row) && (ranges = @sites[row.site]&.ranges) &&
              ranges.values.none? { |low, high| row.max >= low.mm && row.min <= high.mm }
          end
        outside.map do |row, i|
          finding(:off_body, :stop, row, i, min: print(row.min, row), max: print(row.max, row))
        end + beaten
      end

      def beaten
        return [] unless %w[larger smaller].include?(@rule.name)

        rows
          .group_by { |row| row.part.to_s }
          .values
          .flat_map do |part|
            # the sizes that the tie rule prefers stand behind, whichever way the chart runs
            sizes = part.group_by(&:size).to_a
            sizes.reverse! if @rule.name == "smaller"
            sizes.each_with_index.filter_map do |(name, bands), place|
              by = sizes.drop(place + 1).first(REACH).find { |_, wider| inside?(bands, wider) } or
                next
              first = bands.first
              finding(:beaten, :look_again, first, index_of(first), size: name, by: by.first)
            end
          end
      end

      # how many sizes on a size that swallows another is looked for
      REACH = 40
      private_constant :REACH

      def inside?(bands, wider)
        by_site = wider.to_h { |band| [band.site, band] }
        bands.all? do |band|
          (other = by_site[band.site]) && other.min <= band.min && other.max >= band.max
        end
      end

      # where a row stands, by the object: two rows may say the same
      def index_of(row) =
        (@places ||= {}.compare_by_identity.merge!(rows.each_with_index.to_h)).fetch(row)

      # from one size to the next one site grows and another shrinks; a grid does that by design
      def contradictions
        rows
          .group_by { |row| row.part.to_s }
          .values
          .flat_map do |part|
            next [] if grid?(part)

            part
              .group_by(&:size)
              .values
              .each_cons(2)
              .filter_map { |smaller, larger| contradiction(smaller, larger) }
          end
      end

      def contradiction(smaller, larger)
        before = smaller.to_h { |row| [row.site, row] }
        steps =
          larger
            .select { |row| before[row.site] }
            .map { |row| [row, middle(row) - middle(before[row.site])] }
        down = steps.find { |_, step| step.negative? } or return
        from = smaller.first.size
        to = larger.first.size
        kind = steps.any? { |_, step| step.positive? } ? :contradiction : :out_of_order
        finding(kind, :look_again, down.first, index_of(down.first), from: from, to: to)
      end

      def grid?(part)
        distinct =
          part.group_by(&:site).values.map { |all| all.map { |row| [row.min, row.max] }.uniq.size }
        sizes = part.map(&:size).uniq.size
        distinct.select { |n| n > 1 && n < sizes }.combination(2).any? { |a, b| a * b == sizes }
      end

      # one site asked for in two ways within a part
      def other_ways
        runs.values.filter_map do |run|
          first = run.first.first
          row, i = run.find { |r, _| [r.posture, r.tension] != [first.posture, first.tension] }
          next unless row

          ways = [row, first].map { |one| [one.posture, one.tension] }
          finding(:two_ways, :look_again, row, i, ways: ways)
        end
      end

      def each_row = rows.each_with_index.select { |row, _| yield row }
      def each_with_key = rows.each_with_index.group_by { |row, _| yield row }
    end
  end
end

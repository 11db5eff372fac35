# frozen_string_literal: true

module Handrail
  module Sizing
    # Looks a chart over before anybody is measured for it: each finding names its row, what is
    # wrong and the mend.
    class ChartCheck
      # state - :stop (it can not be used so) or :look_again (it may be meant so); row - index of
      # the row; site, size first - index of the row that was there before, for what is there twice
      Finding =
        Value.new(:kind, :state, :row, :text, :mend, :first) do
          # lines - the file's line of each row, where the reader looks at a file.
          def sentence(lines = nil) = Chart.placed(text, first, lines)
          def said(lines) = "#{sentence(lines)} #{mend}"
          def to_s = "#{sentence} #{mend}"
        end

      # Wrong units that are looked for: the factor, and what it would mean.
      SLIPS = {
        2.54 => "looks like inches among centimetres",
        1 / 2.54 => "looks like centimetres among inches",
        10.0 =>
          "looks ten times too large (mm " \
            "for cm?)",
        0.1 => "looks ten times too small (cm for mm?)"
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

      def finding(kind, state, row, text, mend, first: nil)
        Finding[kind: kind, state: state, row: row, text: text, mend: mend, first: first]
      end

      def print(mm, row) = Quantity::Length.mm(mm).plain(row.unit)

      def called(row)
        "#{"#{row.part}, " unless row.part.to_s.empty?}size #{row.size}, #{Sizing.site_name(row.site)}"
      end

      def sound?(row) = row.min <= row.max
      def middle(row) = (row.min + row.max).to_f / 2

      # [[row, index], ...] of each part and site, in chart order
      def runs = @runs ||= rows.each_with_index.group_by { |row, _| [row.part.to_s, row.site] }

      def reversed
        each_row { |row| !sound?(row) }.map do |row, i|
          finding(
            :reversed,
            :stop,
            i,
            "#{called(row)}: min #{print(row.min, row)} is above max #{print(row.max, row)}.",
            "Swap them."
          )
        end
      end

      def twice
        each_with_key { |row| [row.part.to_s, row.size, row.site] }
          .values
          .reject(&:one?)
          .flat_map do |found|
            found
              .drop(1)
              .map do |row, i|
                finding(
                  :twice,
                  :stop,
                  i,
                  "#{called(row)} is there twice ({first}).",
                  "Keep one of them.",
                  first: found.first.last
                )
              end
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
                i,
                "#{called(row)}: #{print(row.min, row)} to " \
                  "#{print(row.max, row)} #{SLIPS[factor]}.",
                "By its neighbours it would lie near " \
                  "#{Quantity::Length.mm(expected.round(0)).plain(row.unit)}: mend the figures or the unit."
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
          finding(
            :gap,
            :look_again,
            index,
            "#{called(high)}: nothing holds #{print(low.max, high)} to " \
              "#{print(high.min, high)}.",
            "A reading there is between #{low.size} and #{high.size}. Close the gap if the maker means " \
              "one size to reach."
          )
        elsif gap.negative? && low.size != high.size
          shared = "#{print(high.min, high)} to #{print([low.max, high.max].min, high)}"
          finding(
            :overlap,
            :look_again,
            index,
            "#{called(high)}: #{shared} is in #{low.size} too.",
            "There the tie rule chooses. Leave it if the maker means it."
          )
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
          finding(
            :unreachable,
            :stop,
            i,
            "#{called(row)}: nobody measures #{print(row.min, row)} to " \
              "#{print(row.max, row)} there.",
            "Look at the unit and the site."
          )
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
              finding(
                :unreachable,
                :look_again,
                index_of(bands.first),
                "#{name} is never chosen: all it holds, " \
                  "#{by.first} holds too.",
                "Change a band, or the tie rule."
              )
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
        sentence =
          if steps.any? { |_, step| step.positive? }
            "the other sites grow from #{from} to #{to}, this one shrinks"
          else
            "#{to} is smaller than #{from}"
          end
        finding(
          :contradiction,
          :look_again,
          index_of(down.first),
          "#{called(down.first)}: #{sentence}.",
          "Sizes stand from the smallest up; look at the figures."
        )
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

          ways =
            [first, row].map do |r|
              [r.posture || "any posture", r.tension || "any tension"].join(", ")
            end
          finding(
            :two_ways,
            :look_again,
            i,
            "#{called(row)} is read #{ways.last}, in the first row #{ways.first}.",
            "One site of a part is read in one way."
          )
        end
      end

      def each_row = rows.each_with_index.select { |row, _| yield row }
      def each_with_key = rows.each_with_index.group_by { |row, _| yield row }
    end
  end
end

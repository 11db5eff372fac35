# frozen_string_literal: true

module Handrail
  class Visit
    # What of a fitting that runs should not wait until somebody remembers it: problems that nobody
    # saw end, skin that does not heal, straps whose marks have come to the end of their closure, and what was put right
    # after it was acted on.
    class ConcernWork
      # kind - :problem, :skin, :mark, :misread, :failed or :turned; key - of the problem, of the skin's place, of the
      # setting, of the check or of the site, or "size", with the side; figures - what the wording needs; since - the
      # Date from which it stands.
      Concern =
        Value.new(:kind, :key, :side, :figures, :since) do
          # what it is about, as a text or the key of a kind of skin
          def label = figures.values_at(:title, :label, :skin).compact.first
          # how it goes: of a place of the skin, a size or a girth; nil of the others
          def course = figures[:course]
        end

      # What is said of a check last: its row, or what put it right. It stands where the row stood: what was looked at
      # again later counts before it. rights - ConcernWork.rights of the rows of its visit
      def self.last_word(row, rights)
        row = rights[row[:id]] while rights.key?(row[:id])
        row
      end

      # Rows that put others right, by the id of those.
      def self.rights(rows) =
        rows.filter_map { |row| [row[:corrects_id], row] if row[:corrects_id] }.to_h

      def initialize(visit)
        @visit = visit
      end

      # All of them, the oldest first.
      def all = (problems + skin + marks + put_right).sort_by { |one| [one.since, one.key] }

      # What was acted on as it was written, and was put right since: sizes, checks and the course of girths.
      def put_right = misread + failed + turned

      # Problems that were changed and not seen to end, at this visit or before: a change counts as
      # open until the checks in which the problem shows were good afterwards, here or later.
      def problems
        open = {}
        opened.each do |visit|
          settle(visit, open)
          last_changes(visit).each do |change|
            name = [change.problem, change.side]
            ended?(visit, change) ? open.delete(name) : open[name] ||= day(change.at)
          end
        end
        open.filter_map { |(problem, side), since| problem(problem, side, since) }
      end

      # Places that were looked at again and had become no smaller.
      def skin
        @visit.body.skin.filter_map do |place|
          next if place.gone? || !STILL.include?(place.last[:course])

          Concern[
            kind: :skin,
            key: place.id.to_s,
            side: place.last[:side],
            figures: {
              skin: place.kind,
              course: place.last[:course]
            },
            since: day(place.first[:at])
          ]
        end
      end

      # Straps that are pulled so far past their marks that the closure is nearly used up, or is.
      def marks
        @visit.sides.flat_map do |side|
          @visit
            .fit
            .mark_drifts(side)
            .reject(&:within?)
            .map do |drift|
              Concern[
                kind: :mark,
                key: drift.field.key,
                side: side,
                figures: {
                  label: drift.field.label,
                  past: drift.past,
                  reach: drift.reach
                },
                since: day(drift.at)
              ]
            end
        end
      end

      # Sizes that are worn and were chosen by readings which were put right since, where those give another one. They
      # stand until a size is chosen anew, or a later visit has read the limb again.
      def misread
        @visit.sides.filter_map do |side|
          choice = @visit.sizing.choice(side)
          next unless choice && choice[:chosen] == choice[:advised]

          sized = @visit.at(@visit.visits.find { |row| row.id == choice[:visit_id] })
          right = put_right_of(sized, side, choice)
          next if right.empty? || read_since?(sized)

          now = sized.sizing.advice(side)&.size
          next if now == choice[:chosen]

          figures = { label: choice[:chosen], course: now }
          Concern[
            kind: :misread,
            key: "size",
            side: side,
            figures: figures,
            since: day(right.last[:at])
          ]
        end
      end

      # Checks that were good when they were written down, and are not as they were put right. They stand until a later
      # visit has looked again, or they are put right once more.
      def failed = failed_at(opened).map { |row| failure(row) }

      # The keys of those of a side that stood when this visit began, or came until it was closed.
      def failed_before(side)
        before = @visit.visits_so_far.reject { |row| row.number == @visit.number }
        ended = @visit.row.closed_at
        failed_at(before.map { |row| @visit.at(row) })
          .select { |row| ended.nil? || row[:at] < ended }
          .select { |row| row[:side].nil? || side.nil? || row[:side] == side }
          .map { |row| row[:check_key] }
      end

      # Girths over the visits that go another way by readings that were put right: to grow, to shrink or neither. They
      # stand until a later visit has read the site again.
      def turned
        rights = @visit.visits_so_far.flat_map { |row| @visit.at(row).rows(:readings) }
        rights.select! { |row| row[:corrects_id] }
        return [] if rights.empty?

        turns =
          @visit.sides.flat_map do |side|
            written =
              @visit
                .trend
                .courses(side, as_written: true)
                .to_h { |one| [one.item.key, one.trend.verdict] }
            @visit
              .trend
              .courses(side)
              .reject { |one| written.fetch(one.item.key, one.trend.verdict) == one.trend.verdict }
              .filter_map { |one| turn(one, rights.reverse.find { |row| one.item.takes?(row) }) }
          end
        # a site that has no side is of both
        turns.uniq { |one| [one.key, one.side] }
      end

      # courses of a place of the skin that is not healing
      STILL = %w[same larger].freeze
      private_constant :STILL

      private

      # readings of a side that were corrected after its size was chosen
      def put_right_of(sized, side, choice)
        sized
          .rows(:readings)
          .select { |row| row[:corrects_id] && row[:version] > choice[:version] }
          .select { |row| side.nil? || row[:side].nil? || row[:side] == side }
      end

      def read_since?(sized)
        @visit.visits_so_far.any? do |row|
          row.number > sized.number && @visit.at(row).usable_readings.any?
        end
      end

      # the rows of checks that stand as put right into not good after these visits
      def failed_at(visits)
        found = {}
        visits.each do |visit|
          visit
            .rows(:check_results)
            .group_by { |row| row.values_at(:check_key, :side, :place) }
            .each { |name, rows| found[name] = turned_bad(rows) }
        end
        found.values.compact.select { |row| row[:side].nil? || @visit.sides.include?(row[:side]) }
      end

      # The last word on what was seen last and was good then, where that was put right into something else; or nil.
      # rows - of one check at one visit, the first first
      def turned_bad(rows)
        seen = rows.reject { |row| row[:corrects_id] }.last
        word = ConcernWork.last_word(seen, ConcernWork.rights(rows))
        word if seen[:outcome] == "good" && word[:outcome] == "bad"
      end

      def failure(row)
        title = @visit.fill(@visit.family.check(row[:check_key]).title)
        Concern[
          kind: :failed,
          key: row.values_at(:check_key, :place).compact.join("/"),
          side: row[:side],
          figures: {
            title: title
          },
          since: day(row[:at])
        ]
      end

      # right - the reading row that was put right last, or nil
      def turn(course, right)
        item = course.item
        return if right.nil? || read_after?(item, right)

        Concern[
          kind: :turned,
          key: item.key,
          side: item.side,
          figures: {
            label: item.site.name,
            course: course.trend.verdict.to_s
          },
          since: day(right[:at])
        ]
      end

      def read_after?(item, right)
        @visit.visits_so_far.any? do |row|
          @visit
            .at(row)
            .usable_readings
            .any? do |one|
              one[:version] > right[:version] && !one[:corrects_id] && item.takes?(one)
            end
        end
      end

      def opened
        @visit.visits_so_far.select(&:opened_at).map { |row| @visit.at(row) }
      end

      # the last change of each problem and side at a visit
      def last_changes(visit)
        visit
          .fit
          .changes
          .group_by { |change| [change.problem, change.side] }
          .map { |_, all| all.last }
      end

      def ended?(visit, change) = visit.fit.tries.any? { |try| try.seq == change.seq && try.ended }

      # takes out what was looked at at a later visit and was good, without another change
      def settle(visit, open)
        changed = visit.fit.changes.map { |change| [change.problem, change.side] }
        open.delete_if do |(key, side), _|
          next false if changed.include?([key, side])

          shown = visit.family.problem(key)&.shows_in.to_a
          looked = visit.fit.checklist(side).items.select { |item| shown.include?(item.check.key) }
          looked.any? && looked.all? { |item| item.state == :good }
        end
      end

      def problem(key, side, since)
        title = @visit.family.problem(key)&.title or return
        Concern[kind: :problem, key: key, side: side, figures: { title: title }, since: since]
      end

      def day(time) = @visit.clinic.today(time)
    end
  end
end

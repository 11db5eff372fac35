# frozen_string_literal: true

module Handrail
  class Visit
    # What of a fitting that runs should not wait until somebody remembers it: problems that nobody
    # saw end, skin that does not heal, straps whose marks have come to the end of their closure.
    class ConcernWork
      # kind - :problem, :skin, :mark or :misread; key - of the problem, of the skin's place or of the setting,
      # or "size", with the side; figures - what the wording needs; since - the Date from which it stands.
      Concern = Value.new(:kind, :key, :side, :figures, :since)

      def initialize(visit)
        @visit = visit
      end

      # All of them, the oldest first.
      def all = (problems + skin + marks + misread).sort_by { |one| [one.since, one.key] }

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
        @visit.skin.filter_map do |place|
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
          choice = @visit.choice(side)
          next unless choice && choice[:chosen] == choice[:advised]

          sized = @visit.at(@visit.visits.find { |row| row.id == choice[:visit_id] })
          right = put_right(sized, side, choice)
          next if right.empty? || read_since?(sized)

          now = sized.advice(side)&.size
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

      # courses of a place of the skin that is not healing
      STILL = %w[same larger].freeze
      private_constant :STILL

      private

      # readings of a side that were corrected after its size was chosen
      def put_right(sized, side, choice)
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

      def opened
        @visit.visits_so_far.select(&:opened_at).map { |row| @visit.at(row) }
      end

      # the last change of each problem and side at a visit
      def last_changes(visit)
        visit.changes.group_by { |change| [change.problem, change.side] }.map { |_, all| all.last }
      end

      def ended?(visit, change) = visit.tries.any? { |try| try.seq == change.seq && try.ended }

      # takes out what was looked at at a later visit and was good, without another change
      def settle(visit, open)
        changed = visit.changes.map { |change| [change.problem, change.side] }
        open.delete_if do |(key, side), _|
          next false if changed.include?([key, side])

          shown = visit.family.problem(key)&.shows_in.to_a
          looked = visit.checklist(side).items.select { |item| shown.include?(item.check.key) }
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

# frozen_string_literal: true

module Handrail
  module Store
    class Rehearsal
      # Where a fitting stands, as keys: what the pages draw, asked of the same core.
      class Standing
        def initialize(acts)
          @acts = acts
          @visit = acts.visit
        end

        # A Block in one word, with its side where there is a pair; what is to be read has the site's own.
        def self.named(block, visit)
          return block.key if %i[unread doubt].include?(block.code)

          block.with(side: visit.said_side(block.side)).key
        end

        # taken - "yes" or why not; before - what was seen before the event, see Acts#seen
        def line(taken, before)
          return ordering(taken) unless @visit

          @visit.by_edition do
            Line[
              stage: @visit.closed? ? "closed" : @visit.gates.present.to_s,
              taken: taken,
              next: coming,
              blocked: blocked,
              stop: @visit.safety.stops.map(&:key),
              offered: offered,
              opened: opened(before)
            ]
          end
        end

        private

        def ordering(taken)
          faults = @acts.order_faults.keys.map { |name| name[/\[(\w+)\]/, 1] || name }
          Line[
            stage: "order",
            taken: taken,
            next: faults.first || "caution",
            blocked: faults.map { |name| "order:#{name}" },
            stop: [],
            offered: [],
            opened: []
          ]
        end

        def blocked =
          @visit.closed? ? [] : @acts.standing.map { |block| Standing.named(block, @visit) }.uniq

        # a pair's side goes before, where the thing has one
        def sided(side, *keys) =
          [@visit.said_side(side), *keys].map(&:to_s).reject(&:empty?).join(":")

        def coming
          return planned_next if @visit.closed?
          return "act" if @visit.safety.stops.any?
          return "caution" if @visit.gates.blocks(:measure).any?

          doubt = @visit.doubts.first
          return doubt.values_at(:side, :site).compact.join(":") if doubt

          @visit.recheck? ? at_recheck : at_first
        end

        def planned_next
          if @visit.visits.any? { |row| row.purpose == "recheck" && row.closed_at.nil? }
            "recheck"
          else
            ""
          end
        end

        def at_first
          case @visit.gates.present
          when :measure
            unread
          when :size
            size
          when :fit
            fit
          when :teach
            teach
          else
            "hand_over"
          end
        end

        def at_recheck
          unread || asked || size_again || fit || (teach if @visit.gates.gives_out?) || ending
        end

        def ending = @visit.gates.gives_out? ? "hand_over" : "close"

        def unread
          item = @visit.unread.first or return
          [item.side, item.site.key, *(item.posture if several?(item))].compact.join(":")
        end

        def several?(item) =
          @visit.needs.count { |one| one.site.key == item.site.key && one.side == item.side } > 1

        def asked
          ask, side = @visit.asks_open.first
          ask && sided(side, ask.key)
        end

        def size_again = @visit.gates.gives_out? ? size : nil

        def size
          open =
            @visit.sides.select do |side|
              @visit.sizing.choice(side).nil? || @visit.sizing.size_outdated?(side)
            end
          return sided(open.first, "choose") unless open.empty?

          bare =
            @visit.sides.select do |side|
              @visit.sizing.device(side).nil? || !@visit.sizing.device_fits?(side)
            end
          sided(bare.first, "issue") unless bare.empty?
        end

        def fit
          @visit.sides.each do |side|
            step = @visit.fit.applying(side).next
            list = @visit.fit.checklist(side)
            if step && (!@visit.recheck? || @visit.gates.gives_out?(side))
              return sided(side, before(step, side, list))
            end
            return sided(side, "problem") if list.failed.any?
            return sided(side, list.next.key) if list.next
          end
          nil
        end

        # the step, or what is looked at before it
        def before(step, side, list)
          unlooked = @visit.fit.applying(side).unlooked(step, list)
          return step.key if unlooked.empty?

          unlooked.any?(&:failed?) ? "problem" : unlooked.first.key
        end

        def teach
          @visit.sides.each do |side|
            back = @visit.fit.teach_back(side)
            task = back ? back.open_tasks(@visit.tasks).first : @visit.tasks.first
            return sided(side, task.key) if task
          end
          nil
        end

        # remedies for what was named, else for what failed; those at their limit are none
        def offered
          side, key = @acts.wrong
          side ||=
            @visit.sides.find { |one| @visit.fit.checklist(one).failed.any? } || @visit.sides.first
          problem = key ? @visit.family.problem(key) : @visit.remedies.problems_shown(side).first
          return [] unless problem

          offers = @visit.remedies.offers(problem, side).reject { |offer| offer.state == :reached }
          offers
            .partition { |offer| offer.state == :next }
            .flatten(1)
            .map { |offer| offer.remedy.key }
        end

        def opened(before)
          was = before.to_h { |side, key, state| [[side, key], state] }
          @acts
            .seen
            .select { |side, key, state| state == :look_again && was[[side, key]] != :look_again }
            .map { |side, key, _| sided(side, key) }
        end
      end
    end
  end
end

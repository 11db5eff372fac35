# frozen_string_literal: true

module Handrail
  module Fitting
    # What may follow what, for a first fitting and a recheck alike: the only place where anything
    # is held back.
    #
    #   gates = visit.gates
    #   gates.blocks(:size)   # => [Block[code: :unread, stage: :measure, ...]]
    #   gates.open?(:teach)
    #   gates.passable        # what a senior's word would name
    #
    # A stop stands above everything: while one is open, nothing is measured, sized, fitted, taught,
    # handed over or closed, whatever a senior says. A senior's word lets exactly the blocks pass
    # that it names, each as it stood then; what is new or has changed since blocks again.
    class Gates
      # visit - answers sides, recheck?, closed?, identity?, cautions_asked?, stops, unread, doubts,
      # choice(side), size_outdated?(side), device(side), device_fits?(side), applying(side),
      # checklist(side), teach_back(side), fitted_at(side), tasks, handed_over?, asks_open,
      # sent_away?, slips_out (rows of job slips that are not back),
      # skin_waiting (places of the skin not looked at again here), passed (Arrays of Block#name), held_firm (stages).
      def initialize(visit)
        @visit = visit
        @blocks = {}
        @done = {}
        @work_blocks = {}
      end

      # What stands in the way of going into a stage, of :close for a recheck, or of :body: what the
      # skin shows, what the wearer says and photos are written down under a stop too. As Blocks;
      # empty when the way is free. Found once: gates belong to a visit as it stands.
      def blocks(stage) = @blocks[stage] ||= find(stage).freeze

      # the blocks of a stage
      def find(stage)
        case stage
        when :order
          []
        when :body
          identity_blocks
        when :measure
          order_blocks
        when :size
          order_blocks + measure_blocks
        when :fit
          fit_blocks
        when :teach
          fit_blocks + slip_blocks + all_sides { |side| failed(side) }
        when :hand_over
          hand_over_blocks
        when :recheck
          handed_over? ? [] : [block(:not_handed_over, :hand_over)]
        when :close
          close_blocks
        end
      end
      private :find

      def open?(stage) = blocks(stage).empty?

      # Whether the work of a stage is done.
      def done?(stage) = @done.fetch(stage) { @done[stage] = find_done(stage) }

      def find_done(stage)
        return recheck_done?(stage) if @visit.recheck?
        return true if handed_over? && stage != :recheck

        case stage
        when :order
          order_blocks.empty?
        when :measure
          open?(:size)
        when :size
          open?(:fit)
        when :fit
          open?(:fit) && all_sides { |side| work_blocks(side) }.empty?
        when :teach
          open?(:teach) && all_sides { |side| teach_blocks(side) }.empty?
        when :hand_over
          handed_over?
        when :recheck
          false
        end
      end
      private :find_done

      # Where the work stands: the first stage that is not done.
      def present = @visit.recheck? ? :recheck : STAGES.find { |stage| !done?(stage) } || :recheck

      # Whether a recheck gives out something new on a side, on any side where none is said: another
      # size, or another piece.
      def gives_out?(side = nil)
        return false unless @visit.recheck?

        (side ? [side] : @visit.sides).any? do |one|
          @visit.chosen_here?(one) || @visit.issued_here?(one)
        end
      end

      # What a senior's word would let pass here, as Blocks; empty while anything stands that no
      # word can pass.
      def passable
        standing = @visit.recheck? ? blocks(:close) : blocks(:hand_over)
        standing.all? { |block| passable?(block) } ? standing : []
      end

      # Blocks that no senior's word can let pass.
      def firm =
        (@visit.recheck? ? blocks(:close) : blocks(:hand_over)).reject { |block| passable?(block) }

      private

      # a clinic may hold a kind of block that a senior's word could pass elsewhere
      def passable?(block) = block.passable? && !@visit.held_firm.include?(block.stage)

      def handed_over? = @visit.handed_over?
      def all_sides(&) = @visit.sides.flat_map(&)

      def recheck_done?(stage)
        case stage
        when :order
          order_blocks.empty?
        when :measure
          open?(:size)
        when :recheck
          @visit.closed?
        else
          true
        end
      end

      def stop_blocks
        @visit.stops.map do |stop|
          code = stop.standing ? :limit_passed : :stop
          block(
            code,
            :order,
            side: stop.side,
            subject: stop.key,
            rests_on: stop.seq,
            figures: {
              text: stop.text,
              urgency: stop.urgency,
              **stop.figures.to_h
            }
          )
        end
      end

      def order_blocks
        found = stop_blocks + identity_blocks
        found << block(:cautions_open, :order) unless @visit.cautions_asked?
        found
      end

      def identity_blocks = @visit.identity? ? [] : [block(:identity_open, :order)]

      def measure_blocks
        @visit.unread.map do |item|
          block(:unread, :measure, side: item.side, subject: item.site.key)
        end +
          @visit.doubts.map do |row|
            block(:doubt, :measure, side: row[:side], subject: row[:site], rests_on: row[:version])
          end
      end

      def fit_blocks = order_blocks + measure_blocks + all_sides { |side| size_blocks(side) }

      def size_blocks(side)
        return [block(:no_size, :size, side: side)] unless @visit.choice(side)
        return [block(:size_outdated, :size, side: side)] if @visit.size_outdated?(side)
        return [block(:no_device, :size, side: side)] unless @visit.device(side)
        return [block(:other_device, :size, side: side)] unless @visit.device_fits?(side)

        []
      end

      def hand_over_blocks
        return [block(:handed_over_already, :hand_over)] if handed_over?

        fit_blocks + slip_blocks +
          passing(all_sides { |side| work_blocks(side) + teach_blocks(side) })
      end

      def close_blocks
        return [block(:closed, :recheck)] if @visit.closed?

        order_blocks + measure_blocks + resized + passing(recheck_blocks)
      end

      # a size that was chosen anew at the recheck is tied to its device like the first one
      def resized =
        @visit
          .sides
          .select { |side| @visit.chosen_here?(side) }
          .flat_map { |side| size_blocks(side) }

      # who is sent back to the prescriber with it is not held for checks
      def recheck_blocks
        asks =
          @visit.asks_open.map do |ask|
            block(:ask_open, :recheck, subject: ask.key, figures: { label: ask.label })
          end
        asks + unseen_skin + (@visit.sent_away? ? [] : all_sides { |side| check_blocks(side) })
      end

      # a place on the skin that was there before is looked at again before a recheck is closed
      def unseen_skin
        @visit.skin_waiting.map do |place|
          block(
            :skin_unseen,
            :recheck,
            side: place.last[:side],
            subject: place.id.to_s,
            rests_on: place.last[:version],
            figures: {
              kind: place.kind
            }
          )
        end
      end

      def work_blocks(side) = @work_blocks[side] ||= step_blocks(side) + check_blocks(side)

      def step_blocks(side)
        @visit
          .applying(side)
          .open
          .map do |step|
            block(:step_open, :fit, side: side, subject: step.key, rests_on: @visit.fitted_at(side))
          end
      end

      # failed, changed since, never made; the final check among them
      def check_blocks(side)
        list = @visit.checklist(side)
        failed(side) +
          list.open_again.map do |item|
            check_block(:check_changed, side, item, [item.result.seq, item.opened_by.seq])
          end + list.not_done.map { |item| undone(side, item, list) }
      end

      def failed(side)
        @visit
          .checklist(side)
          .failed
          .map { |item| check_block(:check_failed, side, item, [item.result.seq]) }
      end

      def check_block(code, side, item, rests_on, reason = nil)
        block(
          code,
          :fit,
          side: side,
          place: item.place,
          subject: item.check.key,
          rests_on: rests_on,
          figures: {
            after: item.opened_by&.title,
            cause: item.opened_by&.cause,
            reason: reason
          }.compact
        )
      end

      # never looked at, or not possible today: that blocks like a missing look, and what a senior
      # lets pass is that one answer
      def undone(side, item, list)
        if item.result
          rests_on = [item.result.seq, list.last_change]
          return check_block(:check_not_possible, side, item, rests_on, item.result.note)
        end

        check_block(:check_open, side, item, [@visit.fitted_at(side), list.last_change])
      end

      # work that is away at the workshop or the maker, of this fitting
      def slip_blocks
        @visit.slips_out.map do |slip|
          block(
            :slip_out,
            :fit,
            side: slip[:side],
            subject: slip[:id].to_s,
            figures: {
              what: slip[:what],
              doer: slip[:doer],
              due: slip[:due_on]
            }
          )
        end
      end

      # unaided and faultless, and after the last step, size, device or change
      def teach_blocks(side)
        last = @visit.teach_back(side)
        fitted = @visit.fitted_at(side)
        return [block(:teach_back_open, :teach, side: side, rests_on: fitted)] unless last
        return [poor_teach_back(side, last)] unless last.passed?(@visit.tasks)
        if last.seq < fitted
          return [block(:teach_back_old, :teach, side: side, rests_on: [last.seq, fitted])]
        end

        []
      end

      # which tasks are still open, and whether mistakes are left
      def poor_teach_back(side, last)
        block(
          :teach_back_poor,
          :teach,
          side: side,
          rests_on: last.seq,
          figures: {
            tasks: last.open_tasks(@visit.tasks).map(&:text),
            mistakes: last.mistakes.size
          }
        )
      end

      # less what a senior's word has named
      def passing(found) = found.reject { |one| @visit.passed.include?(one.name) }

      def block(code, stage, **what) = Block[code: code, stage: stage, **what]
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Fitting
    # What may follow what, for a first fitting and a recheck alike: the only place where anything
    # is held back.
    #
    #   gates = visit.gates
    #   gates.before(:choose_size) # => [Block[code: :unread, stage: :measure, ...]]
    #   gates.blocks(:size)   # the same of a stage
    #   gates.open?(:teach)
    #   gates.passable        # what a senior's word would name
    #
    # A stop stands above everything: while one is open, nothing is measured, sized, fitted, taught,
    # handed over or closed, whatever a senior says. A senior's word lets exactly the blocks pass
    # that it names, each as it stood then; what is new or has changed since blocks again.
    class Gates
      # Action (the key of a command) => the stage whose blocks hold it back. What a page draws and
      # what the command refuses are both asked here. Those that are missing are never held back: notes,
      # papers, corrections, bookings, what is done about a stop.
      ACTIONS = {
        ask_cautions: :put_right,
        record_skin: :body,
        write_word: :body,
        keep_photo: :body,
        take_reading: :measure,
        answer_reading: :measure,
        strike_reading: :measure,
        take_limb_girths: :measure,
        place_line: :measure,
        start_timer: :measure,
        clear_stage: :measure,
        choose_size: :size,
        try_size: :size,
        issue_device: :size,
        send_for_piece: :size,
        finish_step: :fit,
        record_check: :fit,
        change_one_thing: :fit,
        write_settings: :fit,
        write_job_slip: :fit,
        record_teach_back: :teach,
        hand_over_device: :hand_over,
        answer_recheck: :ask,
        close_recheck: :close,
        withdraw_order: :take_back,
        move_order: :take_back,
        correct_order: :put_right,
        let_pass: :override
      }.freeze

      # visit - answers sides, recheck?, closed?, identity?, cautions_asked?, stops, unread, doubts,
      # choice(side), size_outdated?(side), device(side), device_fits?(side), applying(side),
      # checklist(side), teach_back(side), fitted_at(side), tasks, handed_over?, asks_open,
      # sent_away_with(side), slips_out (rows of job slips that are not back),
      # skin_waiting (places of the skin not looked at again here), passed (Arrays of Block#name), held_firm (stages).
      def initialize(visit)
        @visit = visit
        @blocks = {}
        @done = {}
        @held = HoldBacks.new(visit)
      end

      # What stands in the way of going into a stage, of :close for a recheck, or of :body: what the
      # skin shows, what the wearer says and photos are written down under a stop too. As Blocks;
      # empty when the way is free. Found once: gates belong to a visit as it stands.
      def blocks(stage) = @blocks[stage] ||= find(stage).freeze

      # What holds an action back, as Blocks; empty where nothing does. action - a Symbol
      def before(action)
        stage = ACTIONS[action] or return []
        @visit.ended? ? [block(:ended, :order)] : blocks(stage)
      end

      def open?(stage) = blocks(stage).empty?

      # Whether the work of a stage is done.
      def done?(stage) = @done.fetch(stage) { @done[stage] = find_done(stage) }

      def find_done(stage)
        return recheck_done?(stage) if @visit.recheck?
        return true if handed_over? && stage != :recheck

        case stage
        when :order
          @held.order.empty?
        when :measure
          open?(:size)
        when :size
          open?(:fit)
        when :fit
          open?(:fit) && all_sides { |side| @held.work(side) }.empty?
        when :teach
          open?(:teach) && all_sides { |side| @held.teach(side) }.empty?
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
          @visit.sizing.chosen_here?(one) || @visit.sizing.issued_here?(one)
        end
      end

      # What a senior's word would let pass here, as Blocks; empty while anything stands that no
      # word can pass.
      def passable = standing.all? { |block| passable?(block) } ? standing : []

      # Blocks that no senior's word can let pass.
      def firm = standing.reject { |block| passable?(block) }

      private

      # the blocks of a stage, at a first fitting and at a recheck
      def find(stage)
        case stage
        when :order, :put_right
          []
        when :body
          @held.identity
        when :take_back
          take_back_blocks
        when :measure
          @held.order
        when :size
          @held.order + @held.measure
        when :override
          firm
        else
          @visit.recheck? ? find_at_recheck(stage) : find_at_first(stage)
        end
      end

      def find_at_first(stage)
        case stage
        when :fit
          fit_blocks
        when :teach
          fit_blocks + away_or_overset + all_sides { |side| @held.failed(side) }
        when :hand_over
          hand_over_blocks
        when :recheck
          handed_over? ? [] : [block(:not_handed_over, :hand_over)]
        when :ask, :close
          [block(:no_recheck, :recheck)]
        end
      end

      # of what is given out here, all that a first fitting asks
      def find_at_recheck(stage)
        case stage
        when :fit
          @held.order + given_out { |side| @held.size(side) }
        when :teach
          find_at_recheck(:fit) + away_or_overset + all_sides { |side| @held.failed(side) }
        when :hand_over
          sign_again_blocks
        when :recheck
          []
        when :ask
          @held.identity
        when :close
          close_blocks
        end
      end

      # what stands before the act that ends the visit
      def standing
        return blocks(:hand_over) if !@visit.recheck? || gives_out?

        blocks(:close)
      end

      # blocks of the sides on which a recheck gives out something new
      def given_out(&) = @visit.sides.select { |side| gives_out?(side) }.flat_map(&)

      # a clinic may hold a kind of block that a senior's word could pass elsewhere
      def passable?(block) = block.passable? && !@visit.held_firm.include?(block.stage)

      def handed_over?
        return @handed_over if defined?(@handed_over)

        @handed_over = @visit.handed_over?
      end

      def all_sides(&) = @visit.sides.flat_map(&)

      def recheck_done?(stage)
        case stage
        when :order
          @held.order.empty?
        when :measure
          open?(:size)
        when :recheck
          @visit.closed?
        else
          true
        end
      end

      def fit_blocks = @held.order + @held.measure + all_sides { |side| @held.size(side) }

      def hand_over_blocks
        return [block(:handed_over_already, :hand_over)] if handed_over?

        fit_blocks + away_or_overset +
          passing(all_sides { |side| @held.work(side) + @held.teach(side) })
      end

      def overset = all_sides { |side| @held.overset(side) }
      def away_or_overset = @held.slips + overset

      # what was handed over is ended, not taken back; work that is out is called in first
      def take_back_blocks
        return [block(:handed_over_already, :hand_over)] if handed_over? || @visit.recheck?

        @held.stops(@visit.safety.own_stops) + @held.slips
      end

      # what is given out at a recheck is signed for as at a first fitting
      def close_blocks
        return [block(:closed, :recheck)] if @visit.closed?

        signature = gives_out? && !@visit.hand_over_here
        end_blocks + (signature ? [block(:signature_open, :hand_over)] : [])
      end

      # the same without the signature, which is given last
      def sign_again_blocks
        return [block(:closed, :recheck)] if @visit.closed?
        return [block(:nothing_new, :recheck)] unless gives_out?

        end_blocks
      end

      # what a recheck asks before it ends; of what it gives out, all that a first fitting asks
      def end_blocks
        @held.order + @held.measure + given_out { |side| @held.size(side) } +
          (gives_out? ? @held.slips : []) + overset +
          passing(recheck_blocks + given_out { |side| new_blocks(side) })
      end

      def new_blocks(side) = @held.steps(side) + @held.teach(side)

      # the checks that somebody is sent back to the prescriber with may stay as they are
      def recheck_blocks
        asks =
          @visit.asks_open.map do |ask, side|
            block(:ask_open, :recheck, subject: ask.key, side: side, figures: { label: ask.label })
          end
        checks =
          all_sides do |side|
            sent = @visit.fit.sent_away_with(side)
            @held.checks(side).reject { |one| sent.include?(one.subject) }
          end
        asks + @held.unseen_skin + checks
      end

      # less what a senior's word has named
      def passing(found) = found.reject { |one| @visit.passed.include?(one.name) }

      def block(code, stage, **what) = Block[code: code, stage: stage, **what]
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Fitting
    # What a visit needs next, as data: where the work stands, how it looks, and the one finding
    # that says why. Its words stand in the web's wording, under the finding's code.
    #
    #   step = NextStep.of(visit)
    #   step.stage   # => :measure
    #   step.finding # => :unread
    #   step.figures # => { sites: ["calf, widest part"] }
    #
    # state - :good, :look_again, :stop or :not_done; done - the stages that are done.
    NextStep =
      Value.new(:stage, :state, :finding, :figures, :done) do
        # visit - a Handrail::Visit.
        def self.of(visit) = NextStepOf.new(visit).step
      end

    # Finds the next step of a visit.
    class NextStepOf
      def initialize(visit)
        @visit = visit
        @gates = visit.gates
        @stage = @gates.present
      end

      def step
        state, finding, figures = said
        done = @visit.recheck? ? [] : STAGES.select { |stage| @gates.done?(stage) }
        NextStep[stage: @stage, state: state, finding: finding, figures: figures || {}, done: done]
      end

      private

      def said
        return %i[good closed] if @visit.closed?

        held || (@visit.recheck? ? recheck : at_stage)
      end

      # what is more pressing than the stage's own work
      def held
        if (stop = @visit.safety.stops.first)
          code = stop.standing ? :limit_passed : :stop
          return [
            :stop,
            code,
            { text: stop.text, urgency: stop.urgency, side: stop.side, **stop.figures.to_h }
          ]
        end
        doubt = @visit.doubts.first
        [:look_again, :doubt, doubt[:question].to_h.transform_keys(&:to_sym)] if doubt
      end

      def recheck
        failed = first_failed and return failed
        plan = @visit.family.recheck_plan.find { |planned| planned.key == @visit.plan_key }
        [:not_done, :recheck, { label: plan&.label }]
      end

      def at_stage
        case @stage
        when :order
          [:not_done, @visit.opened_at ? :ask : :ordered]
        when :measure
          [:not_done, :unread, { sites: @visit.unread.map { |item| named(item) } }]
        when :size
          size
        when :fit
          fit
        when :teach
          teach
        when :hand_over
          %i[not_done ready]
        else
          %i[not_done handed_over]
        end
      end

      def named(item) = [@visit.said_side(item.side), item.name].compact.join(" ")

      def size
        open = @visit.sides.reject { |side| @visit.sizing.choice(side) }
        advice = open.map { |side| @visit.sizing.advice(side) }
        return %i[look_again no_chart] if advice.any?(&:nil?)
        return device if open.empty?

        doubtful = advice.find { |one| !SETTLED.include?(one.verdict) }
        return :look_again, :size_doubt, { about: doubtful.remarks.first.to_h } if doubtful

        [
          :not_done,
          :size_clear,
          { sizes: open.zip(advice).map { |side, one| named_size(side, one) } }
        ]
      end

      # the device itself: in the hand, on its way, or come
      def device
        slip =
          @visit.sides.filter_map { |side| @visit.fit.awaited(side) }.min_by { |row| row[:due_on] }
        if @visit.sides.any? { |side| @visit.fit.arrived?(side) }
          return %i[look_again piece_arrived]
        end
        return %i[not_done device] unless slip

        [:not_done, :piece_awaited, { doer: slip[:doer], due: slip[:due_on].iso8601 }]
      end

      # verdicts that leave nothing to weigh
      SETTLED = %w[fits trial computed].freeze

      def named_size(side, advice) = [@visit.said_side(side), advice.size].compact.join(" ")

      def fit
        failed = first_failed and return failed
        side, list =
          @visit.sides.map { |own| [own, @visit.fit.checklist(own)] }.find { |_, one| !one.good? }
        waiting = list&.next or return %i[not_done go_on]
        [:not_done, :next_check, { title: titled(side, waiting.check) }]
      end

      def first_failed
        side, item =
          @visit
            .sides
            .lazy
            .flat_map { |own| @visit.fit.checklist(own).failed.map { |one| [own, one] } }
            .first
        return unless item

        value = item.result.value && item.check.criterion.print(item.result.value)
        [:stop, :check_failed, { title: titled(side, item.check), value: value }]
      end

      # a check as it is said, of a pair with its side
      def titled(side, check) =
        [@visit.said_side(side)&.capitalize, @visit.fill(check.title)].compact.join(": ")

      def teach
        return %i[look_again not_alone] if @visit.fit.teach_backs.any?

        [:not_done, :teach, { who: @visit.family.teach_who }]
      end
    end
  end
end

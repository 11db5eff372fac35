# frozen_string_literal: true

module Handrail
  module Web
    # What a visit needs next, for the board: a state, a sentence, the label of the button and the stage it leads to.
    class NextStep
      attr_reader :record

      LABELS = { order: "Open order", measure: "Go on measuring", size: "Choose size", fit: "Go on fitting", teach: "Teach", hand_over: "Hand over",
                 recheck: "Open recheck" }.freeze

      def initialize(record)
        @record = record
      end

      def stage = record.recheck? ? :recheck : progress.present
      def label = fresh? && !record.recheck? ? "Start" : LABELS.fetch(stage)

      def state
        return :good if record.visit.closed?
        return :stop if progress.stops.any? || (record.checklist.failed.any? && stage == :fit)
        return :look_again if attention

        :not_done
      end

      def sentence
        return "Closed, nothing left to do." if record.visit.closed?

        attention || plain
      end

      private

      def progress = record.progress
      def fresh? = record.visit.opened_at.nil?

      def attention
        return "#{progress.stops.first}: do not fit, refer." if progress.stops.any?
        return progress.doubts.first if progress.doubts.any?
        return failed if stage == :fit && record.checklist.failed.any?
        return doubt if stage == :size

        "Not yet put on alone without a mistake." if stage == :teach && progress.teach_backs.any?
      end

      def failed
        item = record.checklist.failed.first
        "#{record.fill(item.check.title)}#{": #{item.result.length.plain('mm')}" if item.result.length}. Change one thing."
      end

      def doubt
        open = record.sides.reject { |side| record.choice(side) }.map { |side| record.advice(side) }
        return "There is no chart for this product yet." if open.any?(&:nil?)

        open.reject(&:clear?).first&.sentences&.first
      end

      def plain
        case stage
        when :order then fresh? ? "Ordered, not begun. Identity and cautions come first." : "Ask identity and cautions."
        when :measure then "Still to read: #{progress.unread.join('; ')}."
        when :size then "Measured. Size #{record.sides.map do |side|
          [record.sides.size > 1 ? side : nil, record.advice(side).size].compact.join(' ')
        end.join(', ')} is clear."
        when :fit then record.checklist.next.then { |item| item ? "Next check: #{record.fill(item.check.title)}." : "Go on fitting." }
        when :teach then "Fits. Let the #{record.family.teach_who} put it on."
        when :hand_over then "Ready to hand over."
        when :recheck then recheck
        end
      end

      def recheck
        window = record.visit
        return "Handed over #{'and waiting for its recheck' if record.first.visit.closed_at}.".squeeze(" ") unless window.due_to

        "#{record.family.recheck_plan.find { |plan| plan.key == window.plan_key }&.label || 'Recheck'}: read the girths again and look."
      end
    end
  end
end

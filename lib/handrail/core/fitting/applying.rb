# frozen_string_literal: true

module Handrail
  module Fitting
    # The steps of preparing and applying, and the order in which they were done: the first strap is
    # enforced, a swap of the rest is allowed and noted.
    class Applying
      # open - Steps that are not done
      attr_reader :steps, :done, :open

      # steps - Families::Steps in the family's order; done - keys in the order done.
      def initialize(steps, done:)
        @steps = steps
        @done = done & steps.map(&:key)
        @open = steps.reject { |step| done?(step) }.freeze
        freeze
      end

      def done?(step) = done.include?(step.key)
      def next = open.first
      def finished? = self.next.nil?
      def position(step) = steps.index(step) + 1

      # The Step that goes before this one can be ticked, or nil.
      def held_by(step)
        first = steps.find(&:first)
        first if first && step.strap && !step.first && !done?(first)
      end

      # Open steps, the next first, that may be ticked together: up to the first one that can not be
      # undone, is looked at before, or is apart. apart - keys of steps that are ticked each on its own
      def together(apart)
        open.take_while do |step|
          !apart.include?(step.key) && step.for_good.nil? && step.checked.nil?
        end
      end

      # What has to be seen to be good before a step is done and is not, as items of the checklist; empty
      # where the step may be done. checklist - of the same side
      def unlooked(step, checklist)
        checklist.items.select do |item|
          step.checked.to_a.include?(item.check.key) && item.state != :good
        end
      end

      # Steps that are passed over when a step is taken out of the family's order.
      def skipped(step)
        return [] unless step.strap

        steps.take_while { |other| other != step }.select { |other| other.strap && !done?(other) }
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Fitting
    # How far a fitting has come, and what may follow.
    #
    # identity - two identifiers were confirmed; stops - texts of stop signs seen; cautions_asked - they were asked
    # unread - names of sites that are still to be read; doubts - questions about readings that are not answered yet
    # choice - the size chosen or nil; checklist; teach_backs, tasks; handed_over, override
    Progress = Value.new(:identity, :cautions_asked, :stops, :unread, :doubts, :choice, :issued, :checklist, :teach_backs, :tasks, :who,
                         :handed_over, :override, :rechecked) do
      # What stands in the way of going into a stage, as Blocks; empty when the way is free.
      def blocks(stage)
        case stage
        when :order then []
        when :measure then order_blocks
        when :size then order_blocks + measure_blocks
        when :fit then order_blocks + measure_blocks + size_blocks
        when :teach then blocks(:fit) + checklist.failed.map { |i| failed(i) }
        when :hand_over then hand_over_blocks
        when :recheck then handed_over ? [] : [block("not_handed_over", :hand_over, "It has not been handed over yet.")]
        end
      end

      def open?(stage) = blocks(stage).empty?

      # Whether the work of a stage is done.
      def done?(stage)
        return true if handed_over && stage != :recheck

        case stage
        when :order then order_blocks.empty?
        when :measure then open?(:size)
        when :size then open?(:fit)
        when :fit then open?(:fit) && checklist.good?
        when :teach then taught?
        when :hand_over then handed_over
        when :recheck then rechecked
        end
      end

      # Where the work stands: the first stage that is not done.
      def present = STAGES.find { |stage| !done?(stage) } || :recheck

      def taught? = teach_backs.any? && teach_backs.max_by(&:seq).passed?(tasks)

      private

      def order_blocks
        found = stops.map { |text| block("stop", :order, "#{text}: do not fit, refer to the prescriber.") }
        found << block("identity", :order, "Confirm name and date of birth with the wearer.") unless identity
        found << block("cautions", :order, "Ask the cautions.") unless cautions_asked
        found
      end

      def measure_blocks
        unread.map { |name| block("unread", :measure, "#{name} has not been read.") } + doubts.map { |text| block("doubt", :measure, text) }
      end

      def size_blocks = choice ? [] : [block("no_size", :size, "No size has been chosen.")]

      def hand_over_blocks
        return [] if override

        blocks(:fit) + checklist.blocks + teach_blocks
      end

      def teach_blocks
        return [] if taught?

        sentence = if teach_backs.empty? then "The #{who} has not put it on unaided yet."
                   else "The last teach-back was not unaided and faultless. Show again, then let the #{who} repeat it."
                   end
        [block("no_teach_back", :teach, sentence)]
      end

      def failed(item) = block("failed", :fit, "“#{item.check.title}” has failed. Change one thing first.")
      def block(key, stage, sentence) = Block[key: key, stage: stage, sentence: sentence]
    end
  end
end

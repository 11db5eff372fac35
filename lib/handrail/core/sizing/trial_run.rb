# frozen_string_literal: true

module Handrail
  module Sizing
    # A run of trial sizes: the chart gives a start, the trial on the body decides.
    class TrialRun
      # What was seen with a trial size: size - its name; outcome - "good", "small" or "large".
      Trial = Value.new(:size, :outcome)

      attr_reader :start, :trials

      # part - the Part that names the run, smallest first; start - a size name or nil; trials -
      # Trials, oldest first.
      def initialize(part, start:, trials:)
        @names = part.sizes.map(&:name)
        @start = start
        @trials = trials.select { |trial| @names.include?(trial.size) }.freeze
        freeze
      end

      # The size that the last trial confirmed, or nil.
      def confirmed = trials.last&.outcome == "good" ? trials.last.size : nil

      # The size to try next; nil when it is confirmed, or when the run has none left.
      def next
        return if confirmed
        return start || @names[@names.size / 2] if trials.empty?

        place = @names.index(trials.last.size) + (trials.last.outcome == "small" ? 1 : -1)
        name = @names[place] if place >= 0
        name unless name && tried_back?(name)
      end

      # True when the run went both ways and no size was good: between two sizes, made to measure or
      # another make.
      def between? = confirmed.nil? && trials.any? && self.next.nil?

      # Where the run stands, as a Remark.
      def remark
        if confirmed
          other = start && start != confirmed
          code = other ? "trial.decided_otherwise" : "trial.decided"
          return Remark[code: code, figures: { size: confirmed, start: start }]
        end
        return Remark[code: "trial.between", figures: {}] if between?

        Remark[code: "trial.next", figures: { size: self.next }]
      end

      private

      # going back to a size that was wrong the other way
      def tried_back?(name)
        trials.any? do |trial|
          trial.size == name && trial.outcome != "good" && trial.outcome != trials.last.outcome
        end
      end
    end
  end
end

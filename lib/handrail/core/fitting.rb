# frozen_string_literal: true

module Handrail
  # Fitting the device: what was looked at, what was changed, and what may follow what.
  #
  # Everything that happens at a visit has a sequence number `seq`; a later one is larger.
  module Fitting
    # The stages of a fitting in the order in which a fitter works.
    STAGES = %i[order measure size fit teach hand_over recheck].freeze

    # A check's result. outcome - "good" or "bad"; length - what was measured, a Length or nil.
    Result = Value.new(:check, :outcome, :length, :note, :seq, :at, :by) do
      def good? = outcome == "good"
    end

    # Something changed (or a step done) that opens checks again. remedy, problem - keys, nil for a step; opens - check keys;
    # goes_to - where the remedy leads, or nil.
    Change = Value.new(:problem, :remedy, :opens, :goes_to, :note, :seq, :at, :by, :title)

    # The wearer, or a named carer, putting it on. shown - keys of the tasks seen; mistakes - keys of the mistakes left.
    TeachBack = Value.new(:who, :unaided, :shown, :mistakes, :seq) do
      # Alone, every task, no mistake left.
      def passed?(tasks) = unaided && mistakes.empty? && (tasks.map(&:key) - shown).empty?
    end

    # A reason why something may not go on. stage - where it can be mended.
    Block = Value.new(:key, :sentence, :stage)

    # A senior's word that lets a blocked hand-over go on; it is shown for ever.
    Override = Value.new(:reason, :by, :at)
  end
end

# frozen_string_literal: true

module Handrail
  # Fitting the device: what was looked at, what was changed, and what may follow what.
  #
  # Everything that happens at a visit has a sequence number `seq`, the version of the entry it came
  # with; a later one is larger. `side` is "left", "right" or nil for a device without a side;
  # `place` is the key of a strap, or "".
  module Fitting
    # The stages of a fitting in the order in which a fitter works.
    STAGES = %i[order measure size fit teach hand_over recheck].freeze

    # A check's result. outcome - "good", "bad" or "not_possible" (today, `note` says why); value -
    # what was measured, a Rational in the base unit of the check's kind, or nil for yes and no; by -
    # the account's id; gone - which of the facts that it rested on is no longer so, or nil; way - of
    # a check that fails in two ways, the one that it was.
    Result =
      Value.new(:check, :side, :place, :outcome, :value, :note, :seq, :at, :by, :gone, :way) do
        def good? = outcome == "good"

        # whether it was looked at at all
        def seen? = outcome != "not_possible"
      end

    # Something changed (or a step done) that opens checks again. remedy, problem - keys, nil for a
    # step; cause - { code:, ... } where neither step nor remedy did it; opens - check keys; goes_to
    # - where the remedy leads, or nil; before, after - what was changed in the fitter's figures;
    # spot - the point of the figure that was shown, or nil.
    Change =
      Value.new(
        :problem,
        :remedy,
        :side,
        :place,
        :opens,
        :goes_to,
        :note,
        :seq,
        :at,
        :by,
        :title,
        :cause,
        :before,
        :after,
        :spot
      )

    # The wearer, or a named carer, putting it on. shown - keys of the tasks seen; levels - task key =>
    # how it went, see LEVELS, nil in what was written before levels were; mistakes - keys of the
    # mistakes left; tries - how often it was tried; gone - see Result.
    TeachBack =
      Value.new(:who, :side, :unaided, :shown, :mistakes, :seq, :levels, :tries, :gone) do
        # Alone, every task, no mistake left.
        def passed?(tasks) = unaided && mistakes.empty? && open_tasks(tasks).empty?

        # The tasks that were not seen, or not unaided.
        def open_tasks(tasks)
          tasks.reject { |task| levels ? levels[task.key] == "unaided" : shown.include?(task.key) }
        end
      end

    # How a task of a teach-back went: alone, after a word, with the fitter's hands, not at all.
    LEVELS = %w[unaided word hands not].freeze

    # A sign that holds everything until someone writes what was done about it. urgency -
    # :emergency, :today or :prescriber; text - as the protocol words it, nil where `figures` say
    # it; holds - see Families::Prompt; standing - true where no action lifts it, only another order (a
    # load limit passed); from - where it was raised at another fitting of the wearer: { visit:, title: }.
    Stop = Value.new(:key, :text, :urgency, :side, :figures, :seq, :holds, :standing, :from)

    # A reason why something may not go on, as data; its words stand in the web's wording.
    #
    # code - what it is; stage - where it can be mended; side, place; subject - key of the check,
    # site, step or stop; figures - what the words need; rests_on - the seq of what it was found on:
    # an override of an earlier state does not cover a later one.
    Block =
      Value.new(:code, :stage, :side, :place, :subject, :figures, :rests_on) do
        # What a senior's word names: the block and what it rested on.
        def name
          {
            "code" => code.to_s,
            "side" => side,
            "place" => place.to_s,
            "subject" => subject,
            "rests_on" => rests_on
          }
        end

        # The same in one word, without what it rested on: "check_failed:left:no_pinch".
        def key = [code, side, subject, place].map(&:to_s).reject(&:empty?).join(":")

        # Whether a senior's word can let it pass at all.
        def passable? = PASSABLE.include?(code)
      end

    # Codes of all Blocks.
    BLOCKS = %i[
      stop
      limit_passed
      identity_open
      identity_changed
      cautions_open
      ended
      signature_open
      nothing_new
      unread
      doubt
      no_size
      size_outdated
      no_device
      piece_awaited
      other_device
      step_open
      check_failed
      check_distress
      check_firm
      check_changed
      check_open
      check_not_possible
      slip_out
      set_too_far
      teach_back_open
      teach_back_poor
      teach_back_old
      ask_open
      skin_unseen
      not_handed_over
      handed_over_already
      closed
      no_recheck
    ].freeze

    # A senior lets failed, changed or missing checks, steps and teach-backs pass; never a stop, an
    # open question, a missing size or device.
    PASSABLE = %i[
      check_failed
      check_changed
      check_open
      check_not_possible
      step_open
      teach_back_open
      teach_back_poor
      teach_back_old
      ask_open
      skin_unseen
    ].freeze
  end
end

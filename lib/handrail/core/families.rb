# frozen_string_literal: true

module Handrail
  # Device families: the protocol of each, and what a protocol is made of.
  module Families
    # Whether a `when:` holds: every key named there must have one of the values given. config - what
    # was ordered and what the product is, by key.
    def self.applies?(conditions, config) =
      conditions.to_h.all? { |key, values| Array(values).include?(config[key]) }

    # Whether something of a family applies, from its `when:`.
    module Conditional
      def applies?(config) = Families.applies?(self.when, config)
    end

    # One choice of a field or option. said - the words inside a sentence; says - its reason; stop -
    # true where choosing it is a stop sign, urgency - how urgent that is.
    Choice = Value.new(:key, :label, :said, :says, :stop, :urgency) { def in_words = said || label }

    # A prompt to ask or to look for. urgency - of a stop sign: "emergency", "today" or
    # "prescriber"; holds - what it holds back: "wearer" (every device), "part" (every device on that
    # part of the body, where nothing is said), "order" (this one alone).
    Prompt = Value.new(:key, :text, :urgency, :holds, :when) { include Conditional }

    # One step of preparing, applying or taking off. strap - the strap it closes; first - true when
    # no other strap may be closed before it, why - the reason; opens - the checks to look at again
    # once it is done; at_home - the words for the wearer's sheet, false for what only the clinic
    # does.
    Step =
      Value.new(:key, :title, :do, :strap, :first, :why, :landmark, :when, :opens, :at_home) do
        include Conditional
      end

    # Something looked at, with its Fitting::Criterion. hint - how; ask - what is measured; final -
    # the one that any change opens again; each_strap - true where every strap is looked at on its
    # own.
    Check =
      Value.new(:key, :title, :hint, :ask, :posture, :final, :when, :criterion, :each_strap) do
        include Conditional

        def measured? = criterion.measured?
        def kind = criterion.kind

        # value - a Rational in the base unit of the criterion's kind.
        def good?(value) = criterion.good?(value)
      end

    # Something to change. opens - checks to look at again; goes_to - the stage it leads to, when it
    # leads away; last - offered only when the others are used up; distress - what comes first when
    # it is numb, cold or hard to breathe; by - who may do it, where that is not the fitter; costs -
    # what is given up for it; for_good - what can not be undone, in words; limit - the option that
    # bounds what can be added up, see Family#limits; until - settings at whose value it is used up:
    # { "dial" => "high" }.
    Remedy =
      Value.new(
        :key,
        :title,
        :why,
        :last,
        :when,
        :straps,
        :opens,
        :goes_to,
        :distress,
        :by,
        :costs,
        :for_good,
        :limit,
        :until
      ) do
        include Conditional

        # who does it: wearer, fitter, workshop, maker or prescriber
        def doer =
          by || { "workshop" => "workshop", "prescriber" => "prescriber" }[goes_to] || "fitter"

        # whether it is done while the device is away from the wearer
        def away? = %w[workshop maker].include?(doer)

        # Remedies of one kind can change places with one another; nothing else can: distress stays
        # first, what can be undone before what can not, what leads away after what does not.
        def kind = [distress, last, for_good && true, goes_to || (away? ? doer : nil)]
      end

    # What is felt or seen, as a wearer names it or a fitter points at it.
    FELT = %w[hurts rubs gaps slips digs numb].freeze

    # Something wrong, with what to try in order. shows_in - the checks in which it shows; felt - how
    # it is named when somebody points at it, some of FELT.
    Problem = Value.new(:key, :title, :shows_in, :remedies, :when, :felt) { include Conditional }

    # What is to be measured. use - "size" (always), "size_if_charted" or "record"; other_side -
    # "record" where the other limb is read too; posture, tension - where they are not the site's
    # own.
    Need = Value.new(:site, :posture, :tension, :use, :other_side, :when) { include Conditional }

    # How the size is found: by "chart", by "trial" or by "sheet" (which one). asks, small, large -
    # what is looked for in a trial; all_must_fit - true where one size must hold every reading, and
    # made to measure follows else.
    SizeRule = Value.new(:by, :sheet, :asks, :small, :large, :all_must_fit)

    # A sheet to compute. inputs - name => { "reading" =>, "posture" => } or { "field" => } or {
    # "option" => }
    Derive = Value.new(:sheet, :title, :inputs, :when) { include Conditional }

    # A sum of fields of the order and settings found at the fit that may not pass an option of the
    # product.
    Limit =
      Value.new(:fields, :settings, :option, :says) { def key = [*fields, *settings].join("+") }

    # A strap, numbered in closing order; level - its height on the reference figure, a text with a
    # unit.
    Strap = Value.new(:key, :label, :number, :level, :end, :when) { include Conditional }

    # A rule of wearing, or a hint of caring.
    Rule = Value.new(:text, :when) { include Conditional }

    # A wait that the trade asks for. minutes - how long; says - what is looked at when it is over;
    # asks - the check that it belongs to, or nil.
    Timer = Value.new(:key, :label, :minutes, :says, :asks, :when) { include Conditional }

    # A part that wears out. days - how long it usually lasts, or nil.
    Part = Value.new(:key, :label, :days, :says, :when) { include Conditional }

    # A stage of wearing, such as a range of motion that is widened when the prescriber clears it.
    Stage = Value.new(:key, :label, :says, :cleared_by, :when) { include Conditional }

    # A planned recheck: a window in days after hand-over, or a rhythm.
    PlannedRecheck = Value.new(:key, :label, :from_days, :to_days, :every_days, :slack_days)

    # A row of the configuration table: what follows from the order.
    Configuration = Value.new(:when, :gives, :says) { include Conditional }
  end
end

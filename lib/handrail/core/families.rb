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

    # What is said otherwise under a condition. variants - [{ "when" => {..}, "title" => .. }, ...]
    module Varied
      # The same, as it is said for a config: the first variant that applies.
      def as_for(config)
        found = variants.to_a.find { |one| Families.applies?(one["when"], config) }
        found ? with(**found.except("when").transform_keys(&:to_sym)) : self
      end
    end

    # One choice of a field or option. said - the words inside a sentence; says - its reason; stop -
    # true where choosing it is a stop sign, urgency - how urgent that is; postures - the only ones that
    # the wearer may take then.
    Choice =
      Value.new(:key, :label, :said, :says, :stop, :urgency, :postures) do
        def in_words = said || label
      end

    # One thing to do, in order, to get out of the device safely.
    WayOut = Value.new(:text, :when) { include Conditional }

    # A prompt to ask or to look for. urgency - of a stop sign: "emergency", "today" or
    # "prescriber"; holds - what it holds back: "wearer" (every device), "part" (every device on that
    # part of the body, where nothing is said), "order" (this one alone).
    Prompt = Value.new(:key, :text, :urgency, :holds, :when) { include Conditional }

    # One step of preparing, applying or taking off. strap - the strap it closes; first - true when
    # no other strap may be closed before it, why - the reason; opens - the checks to look at again
    # once it is done; at_home - the words for the wearer's sheet, false for what only the clinic
    # does; needs - what an earlier step gives; gives - what later ones need; checked - the checks that are
    # good before it is done: who is lifted, or stands on a lock, is looked at first; for_good - what can not be
    # undone, in words; within - the sheet, site or setting of this wearer that bounds it; by - who may do it;
    # shows - what its picture on the wearer's sheet shows, the strap where nothing is said; at - where that
    # is: levels, or names of points of the figure; view - another figure than the device's.
    Step =
      Value.new(
        :key,
        :title,
        :do,
        :strap,
        :first,
        :why,
        :landmark,
        :when,
        :opens,
        :at_home,
        :needs,
        :gives,
        :checked,
        :for_good,
        :within,
        :by,
        :variants,
        :shows,
        :at,
        :view
      ) do
        include Conditional
        include Varied

        # What its picture shows, or nil.
        def pictured = shows || (strap && "strap")
      end

    # A way in which a check fails. mend - where the remedy has to move it; past - "over" or "under" where a
    # measured value says itself which way it is.
    Way = Value.new(:key, :label, :mend, :past)

    # Something looked at, with its Fitting::Criterion. hint - how; ask - what is measured; final -
    # the one that any change opens again; each_strap - true where every strap is looked at on its
    # own; distress - the stop sign that it is where it does not come back with the device off; looks_for -
    # what of the body it looks after; ways - the ways in which it fails, as Ways; either - why one remedy
    # serves whichever way it was; firm - true where no senior's word lets it pass; within - the option that
    # is the most it may be; answered_by - the check of every strap that answers it.
    Check =
      Value.new(
        :key,
        :title,
        :hint,
        :ask,
        :posture,
        :final,
        :when,
        :criterion,
        :each_strap,
        :distress,
        :looks_for,
        :ways,
        :either,
        :firm,
        :within,
        :answered_by,
        :variants
      ) do
        include Conditional
        include Varied

        # A way by its key, or nil.
        def way(key) = ways.to_a.find { |one| one.key == key }

        # Whether somebody has to say which way it failed: without it nobody knows what to change.
        def asks_way? = ways.to_a.any? { |one| one.past.nil? }

        # The way that a measured value says by itself, or nil. value - see good?
        def way_of(value) = ways.to_a.find { |one| one.past && one.past == criterion.past(value) }

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
    # { "dial" => "high" }; within - what of this wearer bounds what can not be undone, see Step; stop -
    # the stop sign that it raises; force - whether it presses "more", "less" or the "same"; moves - which
    # way it moves the device, see Way.
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
        :until,
        :within,
        :stop,
        :force,
        :moves
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
    # it is named when somebody points at it, some of FELT; way - of the checks that fail in two ways,
    # the one that it is.
    Problem =
      Value.new(:key, :title, :shows_in, :remedies, :when, :felt, :way) do
        include Conditional

        # Whether it can be what a failed check shows. way - the way that was said, or nil
        def shown_by?(check, way = nil)
          shows_in.to_a.include?(check) && (self.way.nil? || way.nil? || self.way == way)
        end
      end

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
    # product, or what a field of the order says is the most. edges - where each raises one of two edges:
    # "field" and "setting" that say which, and "only" the edge that is limited, if it is one.
    Limit =
      Value.new(:fields, :settings, :option, :most, :edges, :says) do
        def key = [*fields, *settings, *edges.to_h["only"]].join("+")
      end

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

    # A stage of wearing, such as a range of motion that is widened when the prescriber clears it. anew - whether a
    # device that is given out later begins with it again, as getting used to it does; ordered - field of the order =>
    # the figure from which on it begins with this one, or nil where it begins with the first whatever was ordered.
    Stage =
      Value.new(:key, :label, :says, :cleared_by, :anew, :ordered, :when) { include Conditional }

    # A planned recheck: a window in days after hand-over, or a rhythm.
    PlannedRecheck = Value.new(:key, :label, :from_days, :to_days, :every_days, :slack_days)

    # A row of the configuration table: what follows from the order.
    Configuration = Value.new(:when, :gives, :says) { include Conditional }
  end
end

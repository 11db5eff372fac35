# frozen_string_literal: true

module Handrail
  module Web
    # What every stage's page shows beside its own work: the rail, the side that it is about, what
    # was typed and not taken, and why. A stage's page object adds what its template prints; the
    # template computes nothing.
    class StagePage
      # the action that a page beside the stages is for, see Fitting::Gates; nil for a stage's own
      GATE = nil

      # whether this page's next forms are fetched ahead, to go on with where there is no line
      AHEAD = false

      # A stop on the rail. state - :done, :present or :later; open - whether it can be gone to.
      Stop = Value.new(:stage, :state, :open)

      # Whether a family's device has something for this page.
      def self.of?(_family) = true

      attr_reader :visit, :account, :trouble

      # trouble - a Store::NotKept: what was sent and is not kept, else nil; params - what was sent;
      # shown - where on the page to go on after an entry that was kept.
      def initialize(visit, account, params: {}, trouble: nil, shown: nil)
        @visit = visit
        @account = account
        @trouble = trouble
        @given = (trouble ? params : shown || params).to_h
        @typed = trouble ? params.to_h : {}
      end

      # The stage, by its class: MeasurePage is :measure.
      def stage = self.class::STAGE

      def bench_class = visit.closed? ? "bench is-closed" : "bench"
      def writable? = !visit.closed? && !visit.ended?

      # Where the page finds the forms that come next, as an attribute; nothing where it has none.
      def fetched_ahead
        return "" unless self.class::AHEAD && writable?

        %( data-ahead-from="/visits/#{visit.id}/ahead/#{stage}#{"?side=#{side}" if side}")
      end

      # Whether a form for an action is drawn: nothing holds it back, or it was sent and is not kept, and
      # what was typed is not to be lost. action - see Fitting::Gates
      def takes?(action) = writable? && (!trouble.nil? || visit.gates.before(action).empty?)

      # What was typed and not taken, as a text; else nil.
      def typed(key) = @typed[key].is_a?(String) ? @typed[key] : nil

      # Keys that were ticked and not taken.
      def typed_list(key) = Array(@typed[key])

      # A field of a form's map that was typed and not taken.
      def typed_in(map, key) = @typed[map].is_a?(Hash) ? @typed[map][key] : nil

      # Where on the page the fitter is.
      def given(key) = @given[key].is_a?(String) ? @given[key] : nil

      # What is wrong with a field, or nil.
      def fault(field) = trouble.is_a?(Store::Faults) ? trouble.fields[field] : nil
      def faults = trouble.is_a?(Store::Faults) ? trouble.fields.values : []

      # The side that the page is about: the one asked for, else the first.
      def side = @side ||= visit.sides.find { |one| one == given("side") } || visit.sides.first
      def two_sides? = visit.sides.size > 1

      # --- what is told above the work ---

      # Senior's words of this visit: [who, when, reason, what they let pass].
      def words
        visit.overrides.map do |row|
          passed =
            row[:blocks].to_a.filter_map do |block|
              [block["side"], block["words"]].compact.join(" ") if block["words"]
            end
          [visit.name_of(row[:by]), row[:at], row[:reason], passed]
        end
      end

      # What others wrote meanwhile, as Ledger::Tolds.
      def stale = trouble.is_a?(Store::Stale) ? trouble.events : []

      # What holds the work back: [[sentence, stage], ...].
      def refused = trouble.is_a?(Store::Refused) ? worded(trouble.blocks) : []

      # What would hold an entry of this page back, told before anything is typed: as `refused`.
      def ahead =
        if trouble || !writable? || self.class::GATE.nil?
          []
        else
          worded(visit.gates.before(self.class::GATE))
        end

      # Anything else that was not kept.
      def other_trouble
        trouble.message if trouble && !trouble.is_a?(Store::Stale) && !trouble.is_a?(Store::Refused)
      end

      # Whether a stop sign was raised at this visit by who looks at it, or they are a senior: then it
      # may have been tapped by mistake.
      def just_raised?(stop)
        raised = visit.events.find { |entry| entry[:version] == stop.seq } or return false
        stop.key.match?(/\A(?!index|limit|sent)/) && (raised[:by] == account.id || account.senior?)
      end

      # Open stop signs: [Fitting::Stop, its words, how urgent in words].
      def stop_signs
        visit.safety.stops.map do |stop|
          [stop, Wording.stop(stop), Wording.urgent(stop.urgency, animal: visit.patient.animal?)]
        end
      end

      # What was acted on and put right since, in words.
      def put_right
        return [] if visit.ended? || !visit.handed_over?

        visit.concerns.put_right.map do |one|
          row = { kind: one.kind.to_s, label: one.label, course: one.course }
          Wording.concern({ **row, side: visit.said_side(one.side), due_on: one.since })
        end
      end

      # What has changed since the fitting was pinned, as a Store::Offer, or nil.
      def offer = @offer ||= writable? ? Store::Offer.of(visit) : nil

      # Blocks in words: [[sentence, stage], ...].
      def worded(blocks) = blocks.map { |block| [Wording.block(block, visit), block.stage] }

      # --- the rail ---

      def stops
        Fitting::STAGES.map do |one|
          state =
            if one == stage
              :present
            else
              visit.gates.done?(one) ? :done : :later
            end
          Stop[stage: one, state: state, open: reachable?(one)]
        end
      end

      private

      # A stage can be looked at once it is open or done. At a recheck the hand-over is behind.
      def reachable?(one)
        gates = visit.gates
        if visit.recheck?
          return gates.open?(:measure) || %i[order recheck hand_over].include?(one) || visit.closed?
        end

        one == :order || one == stage || gates.open?(one) || gates.done?(one) ||
          (one == :hand_over && gates.open?(:teach))
      end
    end
  end
end

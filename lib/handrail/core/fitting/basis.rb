# frozen_string_literal: true

module Handrail
  module Fitting
    # What evidence rests on. A check that was good on one piece says nothing of another; an identity
    # that was confirmed says nothing once the record has another name. So each row of evidence keeps
    # the facts that it rested on, and counts only while they are still so.
    #
    #   facts = Basis.of(:check_results, visit, side: "left", place: "calf") # => { "pin" => 0, "piece" => 4, ... }
    #   Basis.gone(facts, visit, side: "left", place: "calf")                # => [] or [:piece]
    #
    # Facts are plain values that can be kept as JSON. What happened is told by the numbers of the
    # fitting's entries, never by ids, so that they mean the same wherever the fitting is read in.
    #
    #   standing  cautions of the wearer that stand whatever is ordered: one more opens it, one less does not
    #   wearer    name, date of birth and species of who it is about
    #   pin       the entry that set the protocol, product and chart; 0 for the order's own
    #   size      the size that was chosen
    #   piece     the entry with which the piece in hand came
    #   settings  marks and settings of what it is about, as far as there were any
    #   allowed   the figures that the order, or the stage that was cleared last, allows of what the check holds
    #   readings  the entries of the readings that decide
    #   slips     the entry with which work last came back
    #   fitted    the last entry that changed the device: step, change, size, piece
    module Basis
      # kind of evidence => facts that it rests on
      RESTS_ON = {
        safety_questions: %i[wearer pin standing],
        size_choices: %i[pin readings],
        steps_done: %i[pin size piece],
        check_results: %i[pin size piece settings allowed],
        teach_backs: %i[pin size piece],
        visit_timers: %i[pin piece],
        hand_overs: %i[wearer pin size piece],
        overrides: %i[pin]
      }.freeze

      # Facts that only a page is held to: what came back, or was done, since the page was made. What
      # is kept needs them not, since later entries open it again by their number.
      ON_PAGE = {
        steps_done: %i[slips],
        check_results: %i[slips],
        teach_backs: %i[slips fitted],
        hand_overs: %i[slips fitted]
      }.freeze

      # facts that hang on the check and its strap
      ABOUT_CHECKS = %w[settings allowed].freeze
      private_constant :ABOUT_CHECKS

      class << self
        # The facts that something rests on now, as Strings to plain values. kind - a table of
        # evidence; side - nil where it is about all sides; place - key of a strap, or ""; subject - key
        # of the check.
        def of(kind, visit, side: nil, place: nil, subject: nil)
          names(RESTS_ON.fetch(kind), visit, side, [place, subject])
        end

        # The same for a page, which is also held to what was done meanwhile.
        def shown(kind, visit, side: nil, place: nil, subject: nil)
          names(RESTS_ON.fetch(kind) + ON_PAGE.fetch(kind, []), visit, side, [place, subject])
        end

        # Which of kept facts are no longer so, as Symbols in the order of the table above; those
        # that are not known are passed over. kept - Strings to values, or nil; known - facts of the visit that were
        # found before, which those that are found here join
        def gone(kept, visit, side: nil, place: nil, subject: nil, known: {})
          kept.to_h.filter_map do |name, was|
            next unless FACTS.key?(name)

            about = ABOUT_CHECKS.include?(name) ? [place, subject] : nil
            is =
              known.fetch([name, side, about]) { |key| known[key] = fact(name, visit, side, about) }
            name.to_sym unless was == is || same?(name, was, is)
          end
        end

        private

        # name of a fact => how it is found
        FACTS = {
          "wearer" => ->(visit, _side, _place) do
            wearer = visit.patient
            [wearer.name, wearer.born_on.iso8601, wearer.species]
          end,
          "standing" => ->(visit, _side, _place) { visit.safety.standing },
          "pin" => ->(visit, _side, _place) { visit.pin_set_at },
          "size" => ->(visit, side, _place) do
            each(visit, side) { |own| visit.sizing.choice(own)&.fetch(:chosen) }
          end,
          "piece" => ->(visit, side, _place) do
            each(visit, side) { |own| visit.sizing.piece(own) }
          end,
          "settings" => ->(visit, side, place) { set_at(visit, side, place) },
          "allowed" => ->(visit, side, (_, check)) do
            held = visit.family.fields.select { |field| field.held_by.to_a.include?(check) }
            allowed = held.any? ? visit.wear.allowed(side) : {}
            held.to_h { |field| [field.key, field.plain(allowed[field.key])] }
          end,
          "readings" => ->(visit, side, _place) { visit.sizing.deciding_entries(side) },
          "slips" => ->(visit, side, _place) { visit.fit.back_at(side) },
          "fitted" => ->(visit, side, _place) do
            each(visit, side) { |own| visit.fit.fitted_at(own) }
          end
        }.freeze
        private_constant :FACTS

        def names(list, visit, side, place) =
          list.to_h { |name| [name.to_s, fact(name.to_s, visit, side, place)] }

        def fact(name, visit, side, place) = instance_exec(visit, side, place, &FACTS.fetch(name))

        # of the side, or of all in their order where none is meant
        def each(visit, side, &)
          return yield(side) if side || visit.sides.size == 1

          visit.sides.map(&)
        end

        # Marks and settings of what a check is about: of its own strap, of straps whose closing opens
        # it, and what is set otherwise than by a strap (a dial, an angle). Each is a fact from when it
        # was written: writing it first changes nothing.
        def set_at(visit, side, about)
          place, check = about
          written = visit.fit.settings(side).select(&:last)
          return {} if written.empty?

          straps = visit.family.all_steps.select { |step| step.opens.to_a.include?(check) }
          keys = [place, *straps.map(&:strap)].compact
          written
            .select { |field, _| keys.include?(field.key) || field.type != "length" }
            .to_h { |field, row| [field.key, row[:typed]] }
        end

        def same?(name, was, is)
          if name == "settings" && was.is_a?(Hash)
            return was.all? { |place, typed| is[place] == typed }
          end

          name == "standing" && (is - was.to_a).empty?
        end
      end
    end
  end
end

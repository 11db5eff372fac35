# frozen_string_literal: true

Sequel.extension :pg_json

module Handrail
  module Store
    # Plays a fitting from its order to its rechecks with no database: the same commands, gates and families
    # that serve the pages, on rows in memory (see Bench). One event after another is taken or refused, and
    # after each is said where the fitting stands.
    #
    #   played = Rehearsal.new(family, chart: rows)
    #   played.play("order", "side", "left").taken   # => "yes"
    #   played.play("step", "strap_calf", "").taken  # => "goes first: ..."
    #
    # It keeps nothing, sends nothing, and knows no rule of its own.
    class Rehearsal
      # stage - a Fitting::STAGES key as text; taken - "yes" or why not; next - the key of what is to be done
      # next; blocked - what holds back the act that ends this visit; stop - open stops; offered - remedies for
      # what is wrong, the next one first; opened - checks that this event opened again
      Line = Value.new(:stage, :taken, :next, :blocked, :stop, :offered, :opened)

      # The events that can be played.
      NAMES = Acts::NAMES

      # on which it begins; each event is a minute later
      BEGINS = Time.utc(2026, 1, 5, 9)
      MINUTE = 60
      # days from the order to the first recheck that a file names, where that is earlier
      BEFORE = 14
      private_constant :BEGINS, :MINUTE, :BEFORE

      # What a fitting is pinned to today, see Visit::Pin.
      def self.pin(family, options, chart, rule)
        Handrail::Visit::Pin[
          family: family,
          product:
            Handrail::Visit::Product[
              id: 1,
              maker_name: "Rehearsal",
              name: family.name.downcase,
              options: options
            ],
          revision: chart && Revision[id: 1, dated: BEGINS.to_date],
          chart: chart && Sizing::Chart.for_family(chart, family),
          rule: rule,
          methods: Methods.in_force,
          settings: {
          },
          edition: Edition.current
        ]
      end

      Revision = Value.new(:id, :dated)
      private_constant :Revision

      # family - Families::Family; options - of the product, key => text; chart - Sizing::Chart::Rows, or nil
      # where it has none; rule - a Sizing::TieRule; day - a Date before which it begins, where the usual one is
      # too late
      def initialize(family, options: {}, chart: nil, rule: Sizing::TieRule.new, day: nil)
        early = day && (day - BEFORE)
        @now = [BEGINS, early && Time.utc(early.year, early.month, early.day, 9)].compact.min
        @acts = Acts.new(family, options: options, chart: chart, rule: rule)
      end

      # The Handrail::Visit as it stands, nil while it is ordered.
      def visit = @acts.visit

      # Plays one event. name - one of Acts::NAMES; key, value - texts as in the file. Returns a Line.
      def play(name, key, value)
        @now += MINUTE
        Store.at(@now) do
          before = @acts.seen
          taken = attempt(name, key, value)
          Standing.new(@acts).line(taken, before)
        end
      end

      private

      def attempt(name, key, value)
        moment = @acts.public_send(name, key.to_s, value.to_s)
        @now = moment if moment.is_a?(Time)
        "yes"
      rescue Refused => e
        "held back: #{e.blocks.map { |block| Standing.named(block, visit) }.join(", ")}"
      rescue NotKept => e
        e.message
      end
    end
  end
end

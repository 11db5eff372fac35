# frozen_string_literal: true

module Handrail
  class Visit
    # A device that is worn: by which hand-over and since when, when its parts are due, when it is looked at
    # again, and the stage at which it is opened or worn. Of a pair each side has its own of these.
    class WearWork
      def initialize(visit)
        @visit = visit
      end

      # The hand-over by whose hours and plan the device of a side is worn, as a row: that of the visit which
      # gave it out. nil before there is one.
      def hand_over_of(side = @visit.sides.first)
        @hand_over_of ||= {}
        @hand_over_of.fetch(side) { @hand_over_of[side] = find_hand_over(side) }
      end

      # The side of a pair on which alone a recheck gives something out; nil where it is both, or there is one.
      def given_side
        return unless @visit.recheck? && @visit.sides.size > 1

        given = @visit.sides.select { |side| @visit.gates.gives_out?(side) }
        given.first if given.one?
      end

      # The next recheck that the family plans, as a Followup::Window, or nil before hand-over: a device that a
      # recheck gave out is looked at as early as the first was. today - the day on which this visit's work ends,
      # where it is being closed; else nil.
      def next_recheck(today: nil)
        return unless @visit.hand_over

        @visit.method_of("recheck_plan").next(
          @visit.recheck_plan,
          handed_over: @visit.clinic.today(@visit.hand_over[:at]),
          given: given_on(today),
          done: [*held, *today]
        )
      end

      # When the parts of each side's device are due, as Followup::PartLife::Dues, the first due
      # first; nothing before hand-over.
      def part_dues
        return [] unless @visit.handed_over?

        parts = @visit.family.parts.select { |part| part.applies?(@visit.config) }
        @visit
          .sides
          .flat_map do |side|
            @visit.method_of("part_life").of(
              parts,
              handed_over: worn_since(side),
              renewed: renewed(side),
              side: @visit.said_side(side)
            )
          end
          .sort_by(&:due)
      end

      # The day on which the device that is worn on a side came: its parts are new then. A device of
      # another size that was taken at a recheck begins anew.
      def worn_since(side = @visit.sides.first)
        came = [@visit.hand_over[:at], @visit.sizing.device(side)&.fetch(:at)].compact.max
        @visit.clinic.today(came)
      end

      # The stages by which the device is opened, as Families::Stages in their order; empty for most.
      def stages = @stages ||= @visit.family.stages.select { |stage| stage.applies?(@visit.config) }

      # The stage that the device of a side stands at: the one that was cleared last, before any was the one that
      # it begins with. nil where that hangs on a figure which was not ordered: nobody said it, so it is not said.
      # Where getting used to it is a stage, a device that is given out later begins with that again.
      def stage(side = @visit.sides.first)
        stages.find { |one| one.key == cleared(side)&.fetch(:stage) } || beginning
      end

      # What the order allows on a side now, as Visit#config: the figures of the stage that was cleared last in place of
      # those that it began with.
      def allowed(side = @visit.sides.first)
        now = stages.find { |one| one.key == cleared(side)&.fetch(:stage) }
        @visit.config.merge(now&.ordered.to_h.transform_values(&:to_s))
      end

      # What is set further than it may be, as Fitting::SettingBounds::Passed: the order was put right since, or a stage
      # was taken back.
      def overset(side = @visit.sides.first) =
        Fitting::SettingBounds.new(
          @visit.fit.settings(side),
          fields: @visit.family.fields,
          config: allowed(side)
        ).standing

      # Whether a row of what was cleared is of the device that is worn on a side now.
      def clears?(row, side)
        return true unless stages.first&.anew

        given = hand_over_of(side)
        given.nil? || row[:version] > given[:version]
      end

      # How many hours a day were agreed with the stage that it stands at, or nil.
      def stage_hours(side = @visit.sides.first) = cleared(side)&.fetch(:hours)

      # The stage that comes next, or nil at the last.
      def next_stage(side = @visit.sides.first)
        here = stage(side)
        here && stages[stages.index(here) + 1]
      end

      private

      def find_hand_over(side)
        @visit.visits_so_far.reverse_each do |row|
          visit = @visit.at(row)
          here = visit.hand_over_here
          return here if here && (visit.first? || visit.gates.gives_out?(side))
        end
        nil
      end

      # side => the day on which its device was handed over; what this visit gives out is, as it ends
      def given_on(today)
        newest = @visit.newest
        @visit.sides.to_h do |side|
          row = newest.wear.hand_over_of(side)
          now = today && @visit.gates.gives_out?(side)
          [side, now ? today : @visit.clinic.today(row[:at])]
        end
      end

      # the days on which rechecks were held
      def held
        @visit
          .visits
          .select { |other| !other.first? && other.closed_at }
          .map { |other| @visit.clinic.today(other.closed_at) }
      end

      # the last stage that the figure of the order reaches
      def beginning
        return stages.first unless stages.first&.ordered

        field = stages.first.ordered.keys.first
        figure = Families::Number.read(@visit.config[field]) or return
        stages.reverse.find { |one| one.ordered[field] <= figure }
      end

      # what names no side was cleared for both
      def cleared(side) =
        of_side(:stage_clearances, side).reverse_each.find { |row| clears?(row, side) }

      # part key => days on which it was renewed on a side; what names no side was renewed on both
      def renewed(side)
        of_side(:part_renewals, side)
          .group_by { |row| row[:part] }
          .transform_values { |rows| rows.map { |row| row[:renewed_on] } }
      end

      def of_side(table, side)
        @visit.rows_so_far(table).select { |row| row[:side].nil? || row[:side] == side }
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  class Visit
    # A device that is worn: since when, when its parts are due, and the stage at which it is opened
    # or worn.
    class WearWork
      def initialize(visit)
        @visit = visit
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
        came = [@visit.hand_over[:at], @visit.device(side)&.fetch(:at)].compact.max
        @visit.clinic.today(came)
      end

      # The stages by which the device is opened, as Families::Stages in their order; empty for most.
      def stages = @stages ||= @visit.family.stages.select { |stage| stage.applies?(@visit.config) }

      # The stage that it stands at: the one that was cleared last, the first before any was.
      def stage = stages.find { |one| one.key == cleared&.fetch(:stage) } || stages.first

      # How many hours a day were agreed with the stage that it stands at, or nil.
      def stage_hours = cleared&.fetch(:hours)

      # The stage that comes next, or nil at the last.
      def next_stage = stage && stages[stages.index(stage) + 1]

      private

      def cleared = @visit.rows_so_far(:stage_clearances).last

      # part key => days on which it was renewed on a side; what names no side was renewed on both
      def renewed(side)
        @visit
          .rows_so_far(:part_renewals)
          .select { |row| row[:side].nil? || row[:side] == side }
          .group_by { |row| row[:part] }
          .transform_values { |rows| rows.map { |row| row[:renewed_on] } }
      end
    end
  end
end

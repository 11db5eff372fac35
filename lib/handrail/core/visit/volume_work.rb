# frozen_string_literal: true

module Handrail
  class Visit
    # The volume of a limb over the visits, from girths at levels.
    class VolumeWork
      # A side at one visit. on - Date; volume - Followup::LimbVolume; excess - ml over the other
      # side, percent, severity (nil where the other side was read at other levels); change - ml and
      # percent since the first visit of this side.
      State =
        Value.new(
          :visit_id,
          :on,
          :side,
          :volume,
          :excess_ml,
          :excess_percent,
          :severity,
          :change_ml,
          :change_percent
        )

      def initialize(visit) = @visit = visit

      # side => { level in mm => girth in mm }, exact, as read at this visit; the newest of a level
      # stands.
      def girths = girths_at(@visit)

      # States of all visits so far, oldest first, left before right.
      def states
        first = {}
        @visit
          .visits
          .select { |row| row.number <= @visit.number && row.opened_at }
          .flat_map do |row|
            volumes = volumes_at(@visit.at(row))
            volumes.map do |side, volume|
              first[side] ||= volume
              state(row, side, volume, volumes[Sides::OTHER.fetch(side)], first[side])
            end
          end
      end

      # Followup::Trend of a side's volume in ml, or nil where there are too few days.
      def trend(side)
        points =
          states
            .select { |one| one.side == side }
            .map { |one| [one.on, one.volume.ml.round(3).to_r] }
        made = points.any? ? @visit.method_of("trend").new(points) : nil
        made unless made.nil? || made.too_few?
      end

      private

      def girths_at(visit)
        visit
          .rows(:limb_girths)
          .each_with_object({}) do |row, sides|
            (sides[row[:side]] ||= {})[row[:level_mm].to_r] = row[:girth_mm].to_r
          end
      end

      def volumes_at(visit)
        girths_at(visit)
          .select { |_, levels| levels.size > 1 }
          .sort
          .to_h
          .transform_values { |levels| @visit.method_of("limb_volume").new(levels) }
      end

      def state(row, side, volume, other, first)
        percent = volume.percent_more_than(other)
        State[
          visit_id: row.id,
          on: @visit.clinic.today(row.opened_at),
          side: side,
          volume: volume,
          excess_ml: volume.more_than(other),
          excess_percent: percent,
          severity: @visit.method_of("limb_volume").severity(percent),
          change_ml: volume.more_than(first),
          change_percent: volume.percent_more_than(first)
        ]
      end
    end
  end
end

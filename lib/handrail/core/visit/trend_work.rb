# frozen_string_literal: true

module Handrail
  class Visit
    # How the girths that the size hangs on have changed over the visits of a fitting, and when they
    # come to an edge of the size that is worn.
    class TrendWork
      # item - of the plan; trend - Followup::Trend; low, high - mm, the band of the size that is
      # worn, or nil; crossing - Followup::Trend::Crossing; size - its name
      Course =
        Value.new(:item, :trend, :low, :high, :crossing, :size) do
          # Whether the line comes to the edge before a day.
          def before?(date) = !crossing.on.nil? && !date.nil? && crossing.on < date
        end

      def initialize(visit) = @visit = visit

      # Courses of a side, one a site that was read on three days or more.
      def courses(side)
        items = @visit.needs.select { |item| item.decides && [side, nil].include?(item.side) }
        items.filter_map do |item|
          points = points_of(item)
          trend = Followup::Trend.new(points) if points.any?
          course(item, trend, side) unless trend.nil? || trend.too_few?
        end
      end

      private

      def course(item, trend, side)
        size = @visit.choice(side)&.fetch(:chosen)
        low, high = band(item.site.key, size)
        Course[
          item: item,
          trend: trend,
          low: low,
          high: high,
          size: size,
          crossing: trend.crossing(lower: low, upper: high)
        ]
      end

      # [[Date, mm], ...] of the visits up to this one
      def points_of(item)
        @visit
          .visits
          .select { |other| other.id <= @visit.id && other.opened_at }
          .filter_map do |other|
            read = @visit.at(other).repeats(item.site.key, item.side, item.posture)
            [@visit.clinic.today(other.opened_at), read.mm] if read
          end
      end

      # the band of a site in the size that is worn; a size of several parts is named by all of them
      def band(site, size)
        chart = @visit.pin.chart
        return unless chart && size

        sizes =
          chart
            .parts
            .flat_map(&:sizes)
            .select { |one| one.name == size || size.split.include?(one.name) }
        found = sizes.flat_map(&:bands).find { |one| one.site == site }
        found && [found.min, found.max]
      end
    end
  end
end

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

      # What else is followed over the visits. key - :pain_with, :hours, :volume or :pressure; place - the
      # label of a strap, or nil; unit - as it is said; trend - Followup::Trend of plain numbers
      Series =
        Value.new(:key, :place, :unit, :trend) do
          # Whether it goes the way that is worse for the wearer, or whether a change is to be looked
          # at in any case. Steady is neither.
          def worse? = WORSE.fetch(key).include?(trend.verdict)
        end

      WORSE = {
        pain_with: [:rising],
        hours: [:falling],
        volume: [:rising],
        pressure: %i[rising falling]
      }.freeze

      def initialize(visit) = @visit = visit

      # Series of a side that were taken on three days or more: pain with the device, hours worn, the
      # volume of the limb, the pressure under each strap where that changes.
      def series(side = @visit.sides.first)
        volume = @visit.volumes.trend(side) if side
        [
          made(
            :pain_with,
            "of 10",
            numbers { |at| at.rows(:wearer_words).last&.fetch(:pain_with) }
          ),
          made(:hours, "hours", numbers { |at| hours(at) }),
          volume && Series[key: :volume, unit: "ml", trend: volume],
          *pressures(side)
        ].compact
      end

      # Courses of a side, one a site that was read on three days or more.
      # as_written - whether by what was written at the visits, before anything was put right
      def courses(side = @visit.sides.first, as_written: false)
        items = @visit.needs.select { |item| item.decides && [side, nil].include?(item.side) }
        items.filter_map do |item|
          points = points_of(item, as_written: as_written)
          trend = @visit.method_of("trend").new(points) if points.any?
          course(item, trend, side) unless trend.nil? || trend.too_few?
        end
      end

      private

      def made(key, unit, points, place: nil)
        trend = @visit.method_of("trend").new(points) if points.any?
        Series[key: key, unit: unit, place: place, trend: trend] unless trend.nil? || trend.too_few?
      end

      # [[Date, number], ...] of the visits up to this one at which the block gives a number
      def numbers
        @visit
          .visits
          .select { |other| other.number <= @visit.number && other.opened_at }
          .filter_map do |other|
            number = yield @visit.at(other)
            [@visit.clinic.today(other.opened_at), number.to_r] if number
          end
      end

      def hours(visit) = visit.answer("hours_worn")&.fetch(:answer).to_s.tr(",", ".")[/\A[\d.]+\z/]

      def pressures(side)
        measured = @visit.fit.checks(side).select { |check, _| check.criterion.unit == "mmHg" }
        measured.filter_map do |check, place|
          points =
            numbers do |at|
              at
                .fit
                .checklist(side)
                .items
                .find { |item| item.check.key == check.key && item.place == place }
                &.result
                &.value
            end
          label = @visit.sizing.straps(side).find { |strap| strap.key == place }&.label
          found = made(:pressure, "mmHg", points, place: label)
          found unless found.nil? || found.trend.verdict == :steady
        end
      end

      def course(item, trend, side)
        size = @visit.sizing.choice(side)&.fetch(:chosen)
        low, high = band(item.site.key, @visit.sizing.choice(side))
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
      def points_of(item, as_written:)
        @visit
          .visits
          .select { |other| other.number <= @visit.number && other.opened_at }
          .filter_map do |other|
            read =
              as_written ? written(@visit.at(other), item) : @visit.at(other).repeats(*place(item))
            [@visit.clinic.today(other.opened_at), read.mm] if read
          end
      end

      def place(item) = [item.site.key, item.side, item.posture]

      # what was read at a visit, as it was written first
      def written(visit, item)
        rows = visit.readings_of(item)
        return visit.repeats(*place(item)) if rows.none? { |row| row[:corrects_id] }

        first = rows.reject { |row| row[:corrects_id] || row[:struck_at] || visit.doubtful?(row) }
        visit.repeats_from(first.select { |row| item.counts?(row) }, item.site.key)
      end

      # the band of a site in the size that is worn, by the size of the part that it belongs to
      def band(site, choice)
        chart = @visit.pin.chart
        return unless chart && choice

        worn = choice[:parts]&.to_h || chart.split(choice[:chosen]) or return
        sizes =
          chart.parts.flat_map { |part| part.sizes.select { |one| one.name == worn[part.name] } }
        found = sizes.flat_map(&:bands).find { |one| one.site == site }
        found && [found.min, found.max]
      end
    end
  end
end

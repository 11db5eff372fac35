# frozen_string_literal: true

module Handrail
  module Store
    # A clinic: its name, time zone and tape.
    class Clinic < Sequel.Model(Store.db[:clinics])
      def tape_kind = Quantity::Tape[tape]

      # What a senior has settled, as a Choices.
      def choices_made = Choices.new(choices.to_h)

      # key => Families::Family, of all that hold here.
      def device_families = OwnFamilies.of(self)

      # Whether it fits a family; without a list it fits all of them, and always those that it brought in.
      def fits?(key)
        return !OwnFamilies.ended?(self, key) if own_families.to_h.key?(key)

        families.nil? || families.to_a.include?(key)
      end
      def zone = TZInfo::Timezone.get(time_zone)

      # A moment as its clocks show it. Most moments of a page lie between the same two changes of
      # the clocks: the last such span is kept.
      def local(moment)
        span = @span
        span = @span = Span.around(zone, moment) unless span&.cover?(moment, time_zone)
        moment.getlocal(span.offset)
      end

      # From when until when the clocks stand as they do, and by how many seconds they are ahead.
      Span =
        Handrail::Value.new(:zone, :from, :to, :offset) do
          def self.around(zone, moment)
            period = zone.period_for(moment.getutc)
            new(
              zone: zone.identifier,
              from: period.starts_at&.to_time,
              to: period.ends_at&.to_time,
              offset: period.observed_utc_offset
            )
          end

          def cover?(moment, name) =
            zone == name && (from.nil? || moment >= from) && (to.nil? || moment < to)
        end
      private_constant :Span

      # The day, where the clinic is.
      def today(now = Store.now) = local(now).to_date

      # The first moment of a day: where midnight is skipped by the clocks, the moment they jump to;
      # where it comes twice, the first one.
      def midnight(day)
        zone.local_to_utc(Time.utc(day.year, day.month, day.day)) { |periods| periods.first }
      rescue TZInfo::PeriodNotFound
        zone
          .transitions_up_to(
            Time.utc(day.year, day.month, day.day) + 86_400,
            Time.utc(day.year, day.month, day.day) - 86_400
          )
          .map { |transition| transition.at.to_time.getutc }
          .find { |time| local(time).to_date == day }
      end

      # A time of day as a moment. Where the clocks go back over it, the first of the two; raises
      # TZInfo::PeriodNotFound where they go forward over it.
      def moment(day, hour, minute)
        zone.local_to_utc(Time.utc(day.year, day.month, day.day, hour, minute)) do |periods|
          periods.first
        end
      end
    end
  end
end

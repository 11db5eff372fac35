# frozen_string_literal: true

module Handrail
  module Store
    # A clinic: its name, time zone and tape.
    class Clinic < Sequel.Model(Store.db[:clinics])
      def tape_kind = Quantity::Tape[tape]

      # What a senior has settled, as a Choices.
      def choices_made = Choices.new(choices.to_h)

      # Whether it fits a family; without a list it fits all of them.
      def fits?(key) = families.nil? || families.to_a.include?(key)
      def zone = TZInfo::Timezone.get(time_zone)

      # The day, where the clinic is.
      def today(now = Store.now) = zone.to_local(now.getutc).to_date

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
          .find { |time| zone.to_local(time).to_date == day }
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

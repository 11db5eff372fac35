# frozen_string_literal: true

module Handrail
  module Store
    # A clinic: its name, time zone and tape.
    class Clinic < Sequel::Model(Store.db[:clinics])
      def tape_kind = Quantity::Tape[tape]
      def zone = TZInfo::Timezone.get(time_zone)

      # The day, where the clinic is.
      def today(now = Store.now) = zone.to_local(now.getutc).to_date
    end
  end
end

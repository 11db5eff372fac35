# frozen_string_literal: true

module Handrail
  module Store
    # What instruments sent last, by their names, for every process of the server: see Instruments::Presses. Devices
    # belong to the server, not to a clinic; of one that is silent for a day nothing is kept (Retention).
    module DevicePresses
      class << self
        # Keeps [number, moment] of a device, and returns what was kept before, or nil.
        def swap(name, told)
          Store.db.transaction do
            before = Retention.standing(:device_presses).where(name: name[0, 80]).for_update.first
            Store.replace(
              :device_presses,
              :name,
              name: name[0, 80],
              number: told.first,
              moment: told.last,
              at: Store.now
            )
            Retention.sweep unless before
            before&.values_at(:number, :moment)
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # What instruments sent last, by their names, for every process of the server: see Instruments::Presses. Devices
    # belong to the server, not to a clinic.
    module DevicePresses
      # of a device that is silent for so long (seconds) nothing is kept
      KEPT = 86_400

      class << self
        # Keeps [number, moment] of a device, and returns what was kept before, or nil.
        def swap(name, told)
          Store.db.transaction do
            row = Store.db[:device_presses].where(name: name[0, 80])
            before = row.for_update.first
            Store.replace(
              :device_presses,
              :name,
              name: name[0, 80],
              number: told.first,
              moment: told.last,
              at: Store.now
            )
            Store.db[:device_presses].where { at < Store.now - KEPT }.delete unless before
            before && before[:at] > Store.now - KEPT ? before.values_at(:number, :moment) : nil
          end
        end
      end
    end
  end
end

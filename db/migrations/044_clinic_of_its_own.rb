# frozen_string_literal: true

# By this what a clinic sends out is told apart from another installation's: calendars name it in every event.
Sequel.migration do
  up { add_column :clinics, :key, :uuid, null: false, default: Sequel.function(:gen_random_uuid) }
  down { drop_column :clinics, :key }
end

# frozen_string_literal: true

require_relative "../support/tables"

# Readings from before, brought in from what a clinic used then: they belong to no visit, are shown and compared,
# and decide nothing. And the steps of devices that are opened by stages.
Sequel.migration do
  up do
    Tables.signed(self, :earlier_readings, parents: { patient_id: :patients }) do
      Date :read_on, null: false
      String :site, null: false
      String :side
      String :posture
      String :typed, null: false
      String :unit, null: false
      BigDecimal :value_mm, null: false
      check side: Tables::SIDES
      constraint(:value_sound, Sequel.lit("value_mm > 0 AND value_mm <= 3000"))
      constraint(:site_said, Tables.said(:site))
    end
    run "CREATE UNIQUE INDEX earlier_readings_once ON earlier_readings " \
          "(patient_id, read_on, site, side, posture, typed) NULLS NOT DISTINCT"

    # a step of a device that is opened by stages, and who said that it may be taken
    Tables.at_visit(self, :stage_clearances) do
      String :stage, null: false
      String :cleared_by, null: false
      String :agreed
      constraint(:stage_said, Tables.said(:stage))
      constraint(:clearer_said, Tables.said(:cleared_by))
    end
    Tables.append_only(self, :stage_clearances)
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose what was entered. Restore a backup instead."
  end
end

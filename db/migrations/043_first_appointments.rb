# frozen_string_literal: true

require_relative "../support/tables"

# A newcomer is booked before anybody has ordered anything. The order takes the appointment over as its first visit.
Sequel.migration do
  up do
    Tables.signed(
      self,
      :first_appointments,
      parents: {
        patient_id: :patients,
        planned_with: :accounts,
        fitting_id: :fittings,
        ended_by: :accounts
      },
      optional: %i[planned_with fitting_id ended_by]
    ) do
      String :what, null: false
      column :planned_for, :timestamptz, null: false
      column :planned_to, :timestamptz, null: false
      String :planned_room
      column :arrived_at, :timestamptz
      column :ended_at, :timestamptz
      String :ended_as
      String :ended_note
      Integer :version, null: false, default: 0
      constraint(:what_said, Tables.said(:what))
      constraint(:lasts, Sequel.lit("planned_to > planned_for"))
      constraint(:ended_whole, Sequel.lit("num_nulls(ended_at, ended_by, ended_as) IN (0, 3)"))
      constraint(:ended_known, Sequel.lit("ended_as IN ('order', 'no_show', 'cancelled')"))
      constraint(
        :ordered,
        Sequel.lit("(ended_as = 'order') = (fitting_id IS NOT NULL) OR ended_as IS NULL")
      )
      index %i[clinic_id patient_id],
            unique: true,
            where: {
              ended_at: nil
            },
            name: :one_first_appointment
      index %i[clinic_id planned_for], where: { ended_at: nil }, name: :first_appointments_open
    end
  end

  down { drop_table :first_appointments }
end

# frozen_string_literal: true

module Handrail
  module Store
    # Wearers who are booked and have nothing ordered yet.
    module Newcomers
      OPEN = <<~SQL
        SELECT a.id, a.version, a.patient_id, a.what, a.planned_for, a.planned_to, a.planned_with, a.planned_room,
               a.arrived_at, p.given_name, p.family_name, p.record_number
        FROM first_appointments a JOIN patients p ON p.id = a.patient_id
        WHERE a.clinic_id = ? AND a.ended_at IS NULL AND p.rest IS NULL AND a.planned_for >= ? AND a.planned_for < ?
        ORDER BY a.planned_for, a.id LIMIT ?
      SQL
      # the most that the board shows
      SHOWN = 20
      private_constant :OPEN

      class << self
        # Rows from one Time to another, with the wearer's names, by time.
        def between(clinic, from, to, most: 1000) = Store.db[OPEN, clinic.id, from, to, most].all

        # Those that the board shows, of which none ended, as a dataset with placeholders.
        def on_board =
          Store.db[
            OPEN,
            :$clinic,
            Sequel.cast(:$since, :timestamptz),
            Sequel.cast(:$to, :timestamptz),
            SHOWN
          ]

        # The open one of a wearer, and those that did not take place, the newest first.
        def of(clinic, patient_id)
          rows =
            Store.db[:first_appointments]
              .where(clinic_id: clinic.id, patient_id: patient_id)
              .reverse(:id)
              .all
          [
            rows.find { |row| row[:ended_at].nil? },
            rows.select { |row| row[:ended_as] && row[:ended_as] != "order" }
          ]
        end

        # What an order's first visit takes over of the appointment that is open: columns of a visit, and ends the
        # appointment.
        def hand_to(clinic, fitting, by:)
          row =
            Store.db[:first_appointments]
              .where(clinic_id: clinic.id, patient_id: fitting.patient_id, ended_at: nil)
              .for_update
              .first or return {}
          Store.db[:first_appointments].where(id: row[:id]).update(
            ended_at: Store.now,
            ended_by: by,
            ended_as: "order",
            fitting_id: fitting.id,
            changed_at: Store.now,
            version: row[:version] + 1
          )
          if row[:planned_to] < Store.now && clinic.today(row[:planned_for]) != clinic.today
            return {}
          end

          row.slice(:planned_for, :planned_to, :planned_with, :planned_room, :arrived_at)
        end
      end
    end
  end
end

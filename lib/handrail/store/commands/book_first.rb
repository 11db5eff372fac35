# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Books a newcomer before there is an order, or moves that. The order takes it over as its first visit.
      #
      #   BookFirst.new("patient" => 17, "day" => "24 Nov 2026", "time" => "09:40", "what" => "knee, sent by Dr Ansel")
      class BookFirst < ClinicCommand
        include BookingValues
        include FirstAppointment
        include Told

        role :anyone
        input :patient, :id
        input :what, :line, most: 200
        input :version, :count, within: 0..100_000, default: nil

        attr_reader :planning
        private :planning

        def perform(clinic, account)
          who = wearer(clinic)
          unacceptable("what", t(:write_what_they_come)) unless what
          unacceptable("patient", t(:record_joined_book_there)) if who.joined_into_id
          unacceptable("patient", t(:not_waited_for, who: who.name)) if who.rest
          @planning = Planning.new(clinic)
          row = open_one(clinic)
          stale!(row)
          from, to =
            booked_at(
              clinic,
              minutes || planning.minutes("first"),
              but: row && "first:#{row[:id]}",
              kept: row && row[:planned_room]
            )
          kept = {
            what: what,
            planned_for: from,
            planned_to: to,
            planned_with: fitter&.id,
            planned_room: place(row && row[:planned_room]),
            arrived_at: nil
          }
          said =
            t(
              :first_appointment,
              record_number: who.record_number,
              booked_said: booked_said(clinic, from, row && row[:planned_room])
            )
          said_to(who, clinic, row, from, by: account)
          return said, keep(row, **kept) if row

          Store.db[:first_appointments].insert(
            clinic_id: clinic.id,
            patient_id: who.id,
            by: account.id,
            changed_at: Store.now,
            **kept
          )
          [said, { "patient" => who.id }]
        end

        def doubled(_error) = Unacceptable.new("time", MEETS)

        private

        # one that stays at its time is told of no more
        def said_to(who, clinic, row, from, by:)
          return tell_newcomer(who, clinic, "booked", from, by: by) unless row

          tell_newcomer(who, clinic, "moved", from, by: by) if row[:planned_for] != from
        end

        # somebody else moved it since the page was made
        def stale!(row)
          return if row.nil? || version.nil? || version == row[:version]

          unacceptable("version", t(:appointment_moved))
        end
      end
    end
  end
end

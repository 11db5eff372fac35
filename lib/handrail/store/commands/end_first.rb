# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A newcomer did not come, or it was cancelled. Booked anew it is another appointment.
      #
      #   EndFirst.new("patient" => 17, "why" => "no_show")
      class EndFirst < ClinicCommand
        include FirstAppointment
        include Told

        role :anyone
        input :patient, :id
        input :why, :one_of, of: MissVisit::WHY.keys, missing: t(:say_how_missed)
        input :note, :line, most: 200, default: nil

        def perform(clinic, account)
          who = wearer(clinic)
          row = open_one!(clinic)
          if why == "no_show"
            unacceptable("why", t(:they_here)) if row[:arrived_at]
            unacceptable("why", t(:time_has_not_come)) if row[:planned_for] > Store.now
          end
          done =
            keep(row, ended_at: Store.now, ended_by: account.id, ended_as: why, ended_note: note)
          tell_newcomer(who, clinic, why, row[:planned_for], by: account)
          [
            [
              "#{who.record_number} #{MissVisit::WHY.fetch(why)} #{at(clinic, row)}",
              note && "(#{note})"
            ].compact.join(" "),
            done
          ]
        end
      end
    end
  end
end

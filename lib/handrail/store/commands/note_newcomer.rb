# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A newcomer has come for today's first appointment, or was said to be here by mistake.
      #
      #   NoteNewcomer.new("patient" => 17, "came" => "yes")
      class NoteNewcomer < ClinicCommand
        include FirstAppointment

        role :anyone
        input :patient, :id
        input :came, :flag

        def perform(clinic, _account)
          who = wearer(clinic)
          row = open_one!(clinic)
          unless clinic.today(row[:planned_for]) == clinic.today
            unacceptable("came", t(:appointment_not_today))
          end
          [
            "#{who.record_number} #{came ? t(:is_here) : t(:not_here_after_all)}",
            keep(row, arrived_at: came ? Store.now : nil)
          ]
        end
      end
    end
  end
end

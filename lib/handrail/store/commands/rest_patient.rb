# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A wearer died, moved away, or wants no calls: everything that is due stops, with the day and who said so. Taken
      # back, all of it is due again as it was.
      #
      #   RestPatient.new("patient" => 17, "rest" => "moved_away", "on" => "12 Nov 2026", "said" => "her daughter, by
      #   telephone")
      #   RestPatient.new("patient" => 17, "rest" => "")
      class RestPatient < ClinicCommand
        include LocksFittings

        KINDS = Wording.names("rests")

        role :anyone
        input :patient, :id
        input :rest, :line, most: 20
        input :on, :line, most: 40
        input :said, :line, most: 200

        def perform(clinic, _account)
          lock_fittings(clinic, patient)
          wearer =
            Patient.where(clinic_id: clinic.id, id: patient, practice: false).for_update.first or
            unacceptable("patient", t(:no_such_patient))
          rest ? put_to_rest(clinic, wearer) : wake(clinic, wearer)
        end

        private

        def put_to_rest(clinic, wearer)
          refuse!(
            "rest" => (t(:say_what) unless KINDS.key?(rest)),
            "on" => day_fault(clinic.today),
            "said" => (t(:write_who_said_so) unless said)
          )
          keep(clinic, wearer, rest: rest, rest_on: Quantity::Day.read(on), rest_said: said)
          [
            t(
              :nothing_due,
              record_number: wearer.record_number,
              rest: KINDS.fetch(rest),
              said: said
            ),
            result(wearer)
          ]
        end

        def wake(clinic, wearer)
          unacceptable("rest", t(:what_due_patient_due)) unless wearer.rest
          keep(clinic, wearer, rest: nil, rest_on: nil, rest_said: nil)
          [t(:due_again, record_number: wearer.record_number), result(wearer)]
        end

        def keep(clinic, wearer, **values)
          wearer.update(**values, version: wearer.version + 1)
          fittings = Fitting.where(clinic_id: clinic.id, patient_id: wearer.id).select(:id)
          Visit.where(fitting_id: fittings, closed_at: nil).update(resting: !values[:rest].nil?)
        end

        def result(wearer) = { "patient" => wearer.id }

        def day_fault(today)
          t(:day_has_not_come) if Quantity::Day.read(on) > today
        rescue Quantity::Day::Unreadable => e
          e.message
        end
      end
    end
  end
end

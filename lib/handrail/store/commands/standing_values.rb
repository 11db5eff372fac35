# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What the commands of standing cautions share: the wearer, under the locks of their fittings, and what is
      # kept of them anew.
      module StandingValues
        include LocksFittings

        private

        def wearer(clinic)
          lock_fittings(clinic, patient)
          Patient.where(clinic_id: clinic.id, id: patient, practice: false).for_update.first or
            unacceptable("patient", t(:no_such_patient))
        end

        # what is open of this wearer stands otherwise now
        def changed(clinic, who)
          who.update(version: who.version + 1)
          Summaries.keep_wearer(clinic, who.id)
          { "patient" => who.id }
        end
      end
    end
  end
end

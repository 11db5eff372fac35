# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Who writes on a wearer's record locks the wearer's fittings first, as the ledger does: the smallest id first.
      module LocksFittings
        private

        # patients - an id or several
        def lock_fittings(clinic, patients)
          Fitting
            .where(clinic_id: clinic.id, patient_id: patients)
            .order(:id)
            .lock_style(t(:no_key_update))
            .all
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Finds the open account that a command is about, within the clinic.
      module PersonOf
        LAST = Wording.t("commands.only_senior_make_someone").freeze

        private

        def person_of(clinic)
          People.hold(clinic.id)
          Account.where(clinic_id: clinic.id, id: person, status_id: 2).first or
            unacceptable("person", t(:no_such_open_account))
        end
      end
    end
  end
end

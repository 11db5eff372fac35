# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Finds the open account that a command is about, within the clinic.
      module PersonOf
        LAST = "This is the only senior. Make someone else a senior first."

        private

        def person_of(clinic)
          People.hold(clinic.id)
          Account.where(clinic_id: clinic.id, id: person, status_id: 2).first or
            unacceptable("person", "There is no such open account.")
        end
      end
    end
  end
end

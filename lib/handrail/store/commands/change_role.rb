# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Gives someone another role. The last senior stays one: a clinic without a senior could let
      # nobody in any more.
      class ChangeRole < ClinicCommand
        include PersonOf

        role :senior
        input :person, :id
        input :role_given, :line, from: :role, most: 20, missing: t(:choose_role)

        def perform(clinic, account)
          whom = person_of(clinic)
          refuse!("role" => (t(:choose_role) unless People::ROLES.include?(role_given)))
          refuse!("role" => LAST) if role_given != "senior" && People.last_senior?(whom)
          before = whom.role
          whom.update(role: role_given)
          People.note(whom, "role", by: account.id, detail: Wording.from_to(before, role_given))
          [
            t(
              :role_changed,
              whom: whom.name,
              from: before.tr("_", " "),
              to: role_given.tr("_", " ")
            ),
            {}
          ]
        end
      end
    end
  end
end

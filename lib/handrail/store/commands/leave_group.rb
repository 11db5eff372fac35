# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # The clinic leaves its group: the office sees nothing of it any more, and nobody of the group's other clinics
      # works here by their sign-in there. What was sent and taken stays.
      class LeaveGroup < ClinicCommand
        role :senior

        def perform(clinic, _account)
          People.hold(clinic.id)
          clinic.refresh
          if clinic.office || clinic.group_key.nil?
            unacceptable("code", Wording.t("groups.in_none"))
          end

          name = clinic.group_name
          clinic.update(group_key: nil, group_name: nil)
          [t(:left_group, name: name), {}]
        end
      end
    end
  end
end

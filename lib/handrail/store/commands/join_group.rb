# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # The clinic joins a group, by a code of the group's office. From then on the office sees its figures, its
      # people may work in the group's other clinics, and wearers may be sent there with their consent.
      class JoinGroup < ClinicCommand
        role :senior
        input :code, :text, most: 80, missing: t(:write_code_groups_office)

        def perform(clinic, _account)
          People.hold(clinic.id)
          clinic.refresh
          if clinic.office || clinic.group_key
            unacceptable("code", Wording.t("groups.already", name: clinic.group_name))
          end

          key, name = Group.use_code(code, clinic.name)
          unacceptable("code", Group::CODE_GONE) unless key
          clinic.update(group_key: key, group_name: name)
          [t(:joined_group, name: name), {}]
        end
      end
    end
  end
end

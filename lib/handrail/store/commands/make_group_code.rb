# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Makes a code by which a clinic joins the group of this office. It is shown to who made it and kept nowhere.
      #
      #   command = MakeGroupCode.new
      #   Desk.new(office, account).run(command)
      #   command.code # => "x3K..."; nil where the same entry was kept before
      class MakeGroupCode < ClinicCommand
        role :senior

        attr_reader :code

        def perform(clinic, account)
          unacceptable("office", Wording.t("groups.no_office")) unless clinic.office

          @code, digest, ends = Group.code
          id =
            Store.db[:group_codes].insert(
              clinic_id: clinic.id,
              by: account.id,
              at: Store.now,
              digest: digest,
              expires_at: ends
            )
          [t(:code_made_which_clinic), { "code" => id }]
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Invites someone to the clinic: makes a link that they use once. The link itself is shown to
      # who made it and is kept nowhere.
      #
      #   InvitePerson.new("email" => "ada@clinic.example", "role" => "fitter")
      class InvitePerson < ClinicCommand
        include LinkMade

        role :senior
        input :email, :line, most: 200, missing: t(:write_their_e_mail)
        input :role_given, :line, from: :role, most: 20, missing: t(:choose_role)

        def perform(clinic, account)
          address = People.email(email)
          refuse!(
            "email" => email_fault(clinic, address),
            "role" => (t(:choose_role) unless People::ROLES.include?(role_given))
          )
          @token, digest, ends = People.link("join")
          Store.db[:account_links].where(clinic_id: clinic.id, email: address, used_at: nil).update(
            expires_at: Store.now
          )
          id =
            Store.db[:account_links].insert(
              clinic_id: clinic.id,
              by: account.id,
              purpose: "join",
              email: address,
              role: role_given,
              token_digest: digest,
              expires_at: ends
            )
          [t(:invited_as, role: role_given.tr("_", " "), address: address), { "link" => id }]
        end

        private

        def email_fault(_clinic, address)
          return t(:write_e_mail_like) unless address.match?(People::EMAIL)

          t(:e_mail_signs_here) if People.known?(address)
        end
      end
    end
  end
end

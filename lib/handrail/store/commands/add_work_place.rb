# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Somebody shows that an account at another clinic of the group is theirs as well: from then on they sign in
      # with one and choose.
      #
      #   AddWorkPlace.new({ "email" => "maren@harbour.example" }, password: "...")
      #
      # password - of the account there; it is looked at, and kept nowhere
      class AddWorkPlace < ClinicCommand
        role :anyone
        input :email, :text, most: 200, missing: t(:write_own_e_mail)

        def initialize(params = {}, password: "")
          super(params)
          @password = password.to_s
        end

        def perform(clinic, account)
          unacceptable("email", Wording.t("groups.in_none")) unless clinic.group_key

          cluster, other = Places.shown(clinic, email, @password)
          unacceptable("email", Wording.t("places.not_shown")) unless other

          Clusters.within(cluster) { Places.keep(other, account) }
          Places.keep(account, other)
          name = Clusters.within(cluster) { other.clinic.name }
          [t(:works_well, name: name), { "place" => other.id }]
        end
      end
    end
  end
end

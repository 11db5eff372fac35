# frozen_string_literal: true

module Handrail
  module Store
    # Someone who signs in. role - "fitter", "senior" or "front_desk".
    class Account < Sequel.Model(Store.db[:accounts])
      many_to_one :clinic, class: "Handrail::Store::Clinic"

      # how the clinic's columns are called beside the account's
      BESIDE = "its_clinic_"
      private_constant :BESIDE

      class << self
        # Somebody with their clinic, by the account's id, in one query; nil where there is nobody.
        def with_clinic(id)
          row = Store.prepared(:account_with_clinic, account: id) { both }.first
          row && made(row)
        end

        # The same, with whether a sign-in of theirs was used lately: [Account or nil, true or false].
        # digest - of the sign-in, as the database knows it; seconds - how long ago at most
        def signed_in(id, digest, seconds:)
          row =
            Store
              .prepared(:account_signed_in, account: id, digest: digest, seconds: seconds) do
                both.select_append(used_since.exists.as(:used))
              end
              .first or return nil, false
          [made(row.except(:used)), row[:used]]
        end

        private

        def both =
          Store.db[:accounts]
            .join(:clinics, id: :clinic_id)
            .where(Sequel[:accounts][:id] => :$account)
            .select_all(:accounts)
            .select_append(
              *Clinic.columns.map { |one| Sequel[:clinics][one].as(:"#{BESIDE}#{one}") }
            )

        def used_since =
          Store.db[:account_active_session_keys].where(
            account_id: :$account,
            session_id: :$digest
          ).where(
            Sequel.lit(
              "last_use > CAST(CURRENT_TIMESTAMP AS timestamp) - make_interval(secs => ?)",
              :$seconds
            )
          )

        def made(row)
          of_clinic, own = row.partition { |name, _| name.start_with?(BESIDE) }.map(&:to_h)
          account = call(own)
          account.associations[:clinic] = Clinic.call(
            of_clinic.transform_keys { |name| name.to_s.delete_prefix(BESIDE).to_sym }
          )
          account
        end
      end

      # Accounts that were closed do not sign in; their names stay in the records.
      def open? = status_id == 2
      def senior? = role == "senior"
      def clinical? = role != "front_desk"
      def role_name = role.tr("_", " ")
    end
  end
end

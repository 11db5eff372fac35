# frozen_string_literal: true

module Handrail
  module Store
    # Someone who signs in. role - "fitter", "senior" or "front_desk".
    class Account < Sequel.Model(Store.db[:accounts])
      many_to_one :clinic, class: "Handrail::Store::Clinic"

      # Accounts that were closed do not sign in; their names stay in the records.
      def open? = status_id == 2
      def senior? = role == "senior"
      def clinical? = role != "front_desk"
      def role_name = role.tr("_", " ")
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # At whose bench an instrument is: what it sends arrives there by itself, and nowhere else. Who has it says so; it
    # stays until somebody else does, or for a working day (Retention). It is no record of anybody's care.
    #
    #   DeviceBenches.take("tape", account)
    #   DeviceBenches.at?("tape", account) # => true
    module DeviceBenches
      class << self
        def take(kind, account)
          Store.replace(
            :device_benches,
            :kind,
            kind: kind,
            clinic_id: account.clinic_id,
            account_id: account.id,
            at: Store.now
          )
        end

        def leave(kind, account)
          Store.db[:device_benches].where(kind: kind, account_id: account.id).delete
        end

        def at?(kind, account)
          Store
            .prepared(
              :device_at,
              kind: kind,
              account: account.id,
              since: Retention.since(:device_benches)
            ) do
              Store.db[:device_benches]
                .where(kind: :$kind, account_id: :$account)
                .where { at > :$since }
            end
            .any?
        end

        # Whose it is at a clinic, by name; nil where it is nobody's there.
        def whose(kind, clinic)
          Retention
            .standing(:device_benches)
            .where(Sequel[:device_benches][:clinic_id] => clinic.id, :kind => kind)
            .join(:accounts, id: :account_id)
            .get(Sequel[:accounts][:name])
        end
      end
    end
  end
end

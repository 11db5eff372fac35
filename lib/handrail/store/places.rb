# frozen_string_literal: true

module Handrail
  module Store
    # Where else somebody works: their accounts at clinics of one group. Each was shown by its password once; from
    # then on they sign in with one of them and choose. It counts while it stands at both places, both accounts are
    # open and both clinics belong to one group.
    #
    #   Places.of(account)        # => [Place, ...], by the clinics' names
    #   Places.open(account, 12)  # => Place or nil
    module Places
      # id - of the row; cluster - of the other clinic, nil where there is one database; account - the other Account,
      # with its clinic
      Place = Value.new(:id, :cluster, :account)

      class << self
        def any?(account) = Store.db[:work_places].where(account_id: account.id).any?

        # Those that count now.
        def of(account)
          rows = Store.db[:work_places].where(account_id: account.id).order(:other_name, :id).all
          rows.filter_map { |row| place(account, row) }
        end

        def open(account, id)
          row = Store.db[:work_places].where(account_id: account.id, id: id).first
          row && place(account, row)
        end

        # The open account of an e-mail and password at another clinic of this one's group, as [cluster, Account]; nil
        # where there is none.
        def shown(clinic, email, password)
          return unless clinic.group_key

          Clusters
            .each { Account.where(email: People.email(email), status_id: 2).first }
            .find do |cluster, other|
              next unless other && other.clinic_id != clinic.id

              Clusters.within(cluster) do
                Directory.here?(other.clinic_id) && other.clinic.group_key == clinic.group_key &&
                  People.password?(other, password)
              end
            end
        end

        # Writes at the place of one account where else they work; written already, it stays.
        def keep(account, other)
          Store.db[:work_places].insert_conflict(target: %i[account_id other_account_id]).insert(
            clinic_id: account.clinic_id,
            account_id: account.id,
            at: Store.now,
            other_clinic_id: other.clinic_id,
            other_account_id: other.id,
            other_name: other.clinic.name
          )
        end

        # The name of the cluster on which somebody's clinic lives, nil where there is one database.
        def cluster_of(clinic_id) = Clusters.many? ? Directory.cluster_of(clinic_id) : nil

        private

        def place(account, row)
          cluster = cluster_of(row[:other_clinic_id])
          other = Clusters.within(cluster) { told_there(account, row[:other_account_id]) } or return
          Place[id: row[:id], cluster: cluster, account: other]
        rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
          # who can not be asked now is no place to go to now
          raise unless Standby.no_writer?(e)
        end

        def told_there(account, other_id)
          other = Account.with_clinic(other_id)
          same =
            other&.open? && other.clinic.group_key &&
              other.clinic.group_key == account.clinic.group_key
          back = { account_id: other_id, other_account_id: account.id }
          other if same && Store.db[:work_places].where(back).any?
        end
      end
    end
  end
end

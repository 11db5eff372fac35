# frozen_string_literal: true

module Handrail
  module Store
    # What the office of a group publishes: the products of its own catalogue whose chart is in force. Each clinic of
    # the group takes of it what it likes, after it has seen what that changes for its own wearers.
    #
    #   GroupCatalogue.offered(clinic)     # => [Offered, ...], new ones first
    #   GroupCatalogue.one(clinic, 12)     # => Offered or nil
    module GroupCatalogue
      # product - of the office: :id, :maker, :name, :family, :options; revision - a ChartRevision::Kept; own - the
      # clinic's Product of the same maker and name, or nil; state - :new, :other_chart or :same
      Offered =
        Value.new(:product, :revision, :own, :state) do
          def full_name = product.values_at(:maker, :name).join(" ")
        end
      STATES = %i[new other_chart same].freeze

      class << self
        # nothing where the clinic belongs to no group, or the office can not be asked now
        def offered(clinic)
          return [] if clinic.group_key.nil? || clinic.office

          published = Clusters.each { published_here(clinic.group_key) }.values.flatten(1)
          published
            .select do |product, _|
              clinic.fits?(product[:family]) && clinic.device_families.key?(product[:family])
            end
            .map { |product, revision| held(clinic, product, revision) }
            .sort_by { |one| [STATES.index(one.state), one.full_name] }
        end

        def one(clinic, id) = offered(clinic).find { |one| one.product[:id] == id }

        private

        # [product, revision] of the office that lives at the cluster that is asked now
        def published_here(key)
          office = Clinic.first(key: key, office: true) or return []
          return [] unless Directory.here?(office.id)

          products = Product.where(clinic_id: office.id, offered: true).eager(:maker).all
          revisions = ChartRevision.in_force(products.map(&:id), on: office.today)
          products.filter_map do |one|
            revision = revisions[one.id] or next
            plain = one.values.slice(:id, :name, :family)
            [{ **plain, maker: one.maker.name, options: one.options.to_h }, revision]
          end
        end

        def held(clinic, product, revision)
          own =
            Product
              .where(clinic_id: clinic.id, family: product[:family])
              .where(Sequel[:products][:name] => product[:name])
              .all
              .find { |one| one.maker.name == product[:maker] }
          there = own&.revision(clinic.today)
          Offered[
            product: product,
            revision: revision,
            own: own,
            state: state(own, there, revision)
          ]
        end

        def state(own, there, revision)
          return :new unless own

          same =
            there && there.rows == revision.rows && there.tie_rule == revision.tie_rule &&
              there.primary_site == revision.primary_site
          same ? :same : :other_chart
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    # What the group's office publishes, in a clinic's catalogue: a list, and each chart in the editor beside what it
    # changes for the clinic's own wearers; nothing is kept before it is saved there. Page: views/catalogue/group.erb
    module GroupCatalogue
      # What the routes need.
      module Helpers
        # The clinic's product of that name; it is added where there is none.
        def own_product(one)
          return one.own if one.own

          given = one.product.slice(:maker, :name, :family, :options).transform_keys(&:to_s)
          added = desk.run(Store::Commands::AddProduct.new(given))
          Store::Product.first(clinic_id: clinic.id, id: added["product"])
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        app.get "/group" do
          senior!
          halt 404 if clinic.office || clinic.group_key.nil?
          erb :"catalogue/group", locals: { offered: Store::GroupCatalogue.offered(clinic) }
        end

        app.post "/group/:id" do
          senior!
          one = found(Store::GroupCatalogue.one(clinic, id))
          values = {
            "dated" => Quantity::Day.write(today),
            "primary_site" => one.revision.primary_site,
            "tie_rule" => one.revision.tie_rule
          }
          shown_beside(own_product(one), one.revision.rows, values, clinic.group_name)
        rescue Store::Faults, Store::Conflict => e
          status 422
          erb :"catalogue/group",
              locals: {
                offered: Store::GroupCatalogue.offered(clinic),
                faults: e.fields
              }
        end
      end
    end
  end
end

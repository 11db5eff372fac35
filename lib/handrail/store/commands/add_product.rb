# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Adds a product of a maker to the catalogue.
      #
      #   AddProduct.new("maker" => "Seacombe", "name" => "Day knee", "family" => "graduated_stocking", "options" =>
      #   {})
      class AddProduct < ClinicCommand
        include ProductOptions

        role :senior
        input :maker, :line, most: 200
        input :name, :line, most: 200
        input :family, :line, most: 80
        input :options, :map, lists: true

        def perform(clinic, _account)
          made = clinic.device_families[family]
          refuse!(
            "maker" => (t(:write_makers_name) unless maker),
            "name" => (t(:write_products_name) unless name),
            "family" =>
              (t(:choose_device_family) if made.nil? || OwnFamilies.ended?(clinic, made.key))
          )
          kept = read_options(made, options)
          Store.db[:makers].insert_conflict(target: %i[clinic_id name]).insert(
            clinic_id: clinic.id,
            name: maker
          )
          owner = Maker.where(clinic_id: clinic.id, name: maker).first
          product =
            Product.create(
              clinic_id: clinic.id,
              maker_id: owner.id,
              family: made.key,
              name: name,
              options: Store.json(kept)
            )
          [t(:product_added, full_name: product.full_name), { "product" => product.id }]
        end

        def doubled(_error) = Faults.new("name" => t(:has_product_name_already, maker: maker))
      end
    end
  end
end

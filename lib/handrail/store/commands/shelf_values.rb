# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Which product, size and side of the shelf is meant. Shared by the commands of the shelf.
      module ShelfValues
        private

        def product_of(clinic)
          Product.where(clinic_id: clinic.id, id: product).first or
            unacceptable("product", t(:no_such_product))
        end

        def shelf_faults(clinic, made)
          names = made.size_names(clinic.today)
          {
            "size" =>
              (t(:choose_size_of, names: names.first(30).join(", ")) unless names.include?(size)),
            "side" =>
              (t(:choose_left_right_neither) unless ["", "left", "right"].include?(side.to_s))
          }
        end
      end
    end
  end
end

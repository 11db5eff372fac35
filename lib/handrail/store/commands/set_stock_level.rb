# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Sets the least of a size that should stand on the shelf.
      class SetStockLevel < ClinicCommand
        include ShelfValues

        role :anyone
        input :product, :id
        input :size, :line, most: 120
        input :side, :line, most: 10
        input :least, :count, within: 0..999, missing: t(:write_least_keep)

        def perform(clinic, _account)
          made = product_of(clinic)
          refuse!(shelf_faults(clinic, made))
          Store.db[:stock_levels].insert_conflict(
            target: %i[product_id size side],
            update: {
              least: least
            }
          ).insert(
            clinic_id: clinic.id,
            product_id: made.id,
            size: size,
            side: side.to_s,
            least: least
          )
          [t(:least_keep, least: least, size: size, full_name: made.full_name), {}]
        end
      end
    end
  end
end

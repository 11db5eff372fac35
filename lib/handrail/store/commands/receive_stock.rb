# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Puts pieces on the shelf.
      #
      # What a bar code reader types as the lot is taken apart, see Labelled.
      #
      #   ReceiveStock.new("product" => 4, "size" => "M", "side" => "", "count" => "3", "lot" => "A1")
      class ReceiveStock < ClinicCommand
        include ShelfValues
        include Labelled

        role :anyone
        input :product, :id
        input :size, :line, most: 120
        input :side, :line, most: 10
        input :count, :count, within: 1..200, missing: t(:write_how_many)
        input :lot, :line, most: 80

        def perform(clinic, _account)
          made = product_of(clinic)
          refuse!(shelf_faults(clinic, made))
          label = label_of({ "lot" => lot }, clinic)
          other = stands_on(label&.gtin, clinic, product_id: made.id, size: size)
          unacceptable("lot", other) if other
          row = {
            clinic_id: clinic.id,
            product_id: made.id,
            size: size,
            side: side.to_s,
            lot: label ? label.lot : lot,
            **label_values(label),
            received_at: Store.now
          }
          Store.db[:stock_items].multi_insert(Array.new(count) { row })
          [
            t(:of_received, count: count, size: size, full_name: made.full_name),
            { "count" => count }
          ]
        end
      end
    end
  end
end

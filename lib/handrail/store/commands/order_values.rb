# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What of a prescription can not be taken, whoever writes it down or puts it right.
      module OrderValues
        private

        # made - a Family; product - a Product, or nil. Returns the name of an input => words, nil where it is fine.
        def order_faults(clinic, made, product, side)
          {
            "product_id" => (t(:choose_product) unless product),
            "prescriber" => (t(:write_who_prescribed) unless prescriber),
            "prescribed_on" => prescribed_fault(clinic.today),
            **Families::OrderFaults.of(
              made,
              side: side,
              fields: fields,
              options: product&.options&.to_h,
              name: product&.full_name
            )
          }
        end

        # a day without its year is the last one
        def prescribed_day(today) = Quantity::Day.recent(prescribed_on, today: today)

        def prescribed_fault(today)
          t(:prescription_can_not_dated) if prescribed_day(today) > today
        rescue Quantity::Day::Unreadable => e
          e.message
        end

        # the fields that are written down, key => text
        def ordered_fields(made, product, side) =
          Families::OrderFaults.kept(
            made,
            side: side,
            fields: fields,
            options: product.options.to_h
          )
      end
    end
  end
end

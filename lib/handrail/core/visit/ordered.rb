# frozen_string_literal: true

module Handrail
  class Visit
    # The order that a visit is about, in the words of its family.
    #
    #   visit.title  # => "left knee unloader, inner side"
    #   visit.config # => { "side" => "left", "compartment" => "medial", ... }
    module Ordered
      # The order, with what was put right of it up to this visit.
      def prescription
        @prescription ||= Prescribed.of(source.prescription, rows_so_far(:order_corrections))
      end

      def config
        @config ||=
          family.config(
            { "side" => side, **prescription.fields.to_h, **safety.low_index },
            product.options
          )
      end

      # [[label, text], ...] of the fields of the order that were filled in.
      def order_facts
        family
          .fields_for(config)
          .filter_map do |field|
            value = prescription.fields[field.key]
            [field.label, field.print(value)] if value
          end
      end

      def title = family.describe(config)
      def configuration = family.configuration(config)
      def fill(text) = family.fill(text, config)
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # The options of a product as typed: lists of lengths have commas or semicolons between them.
      # Shared by adding and changing products.
      module ProductOptions
        private

        # The options as they are kept. Raises Faults with every one that can not be read.
        def read_options(family, typed)
          faults = {}
          values =
            family.options.to_h do |option|
              raw = typed[option.key]
              raw = raw.nil? || raw == "" || raw == [] ? option.default : listed(option, raw)
              faults["options[#{option.key}]"] = option.fault(raw)
              [option.key, raw]
            end
          refuse!(faults)
          values
        end

        def listed(option, raw)
          return raw unless option.type == "lengths"

          Array(raw).flat_map { |text| text.split(/[;,]\s+|;/) }.map(&:strip).reject(&:empty?)
        end
      end
    end
  end
end

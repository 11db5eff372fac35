# frozen_string_literal: true

module Handrail
  module Families
    # The sheets of a family, computed for one wearer.
    module Computing
      # family; config - what applies, with the order's fields and the product's options; reading - called with (site key, posture or
      # nil), returns a Length or nil. Returns Sizing::Sheets by key, in the family's order.
      def self.sheets(family, config, &reading)
        family.derives(config).to_h do |derive|
          inputs = derive.inputs.to_h { |name, source| [name.to_sym, value(family, config, source, reading)] }
          [derive.sheet, Sizing.sheet_maker(derive.sheet).make(derive.title, inputs, names: names(derive))]
        end
      end

      class << self
        private

        def value(family, config, source, reading)
          return reading.call(source["reading"], source["posture"]) if source["reading"]

          option = source["option"] and return family.option(option).value(config[option])
          field = family.fields.find { |f| f.key == source["field"] }
          typed = config[field.key].to_s
          typed.empty? ? nil : typed_value(field, typed)
        end

        def typed_value(field, typed)
          case field.type
          when "length" then Quantity::Length.parse(typed, unit: field.unit)
          when "number" then typed.tr(",", ".").to_f
          else typed
          end
        end

        def names(derive)
          derive.inputs.select { |_, source| source["reading"] }.to_h do |name, source|
            site = Anatomy::Vocabulary.default.fetch(source["reading"])
            [name.to_sym, source["posture"] && site.postures.size > 1 ? "#{site.name}, #{source['posture']}," : site.name]
          end
        end
      end
    end
  end
end

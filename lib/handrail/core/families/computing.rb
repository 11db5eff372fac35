# frozen_string_literal: true

module Handrail
  module Families
    # The sheets of a family, computed for one wearer.
    module Computing
      # what the same inputs came to
      SHEETS = Memory.new(1000)
      private_constant :SHEETS

      # pin - a Visit::Pin: family and methods; config - what applies, with the order's fields and the
      # product's options; reading - called with (site key, posture or nil), returns a Length or nil;
      # girth - called with the key of a strap, returns the girth where it lies, from what was read of the
      # limb, as a Length or nil; side - the side that they are computed for, or nil. Returns Sizing::Sheets by
      # key, in the family's order.
      def self.sheets(pin, config, side = nil, girth: nil, &reading)
        family = pin.family
        family
          .derives(config)
          .to_h do |derive|
            inputs =
              derive.inputs.to_h do |name, source|
                [name.to_sym, value(family, config, own(source, side), reading, girth)]
              end
            maker = pin.method_of(derive.sheet)
            key = [maker, Edition.here.digest, derive, inputs]
            [derive.sheet, SHEETS.remember(key) { sheet(maker, derive, inputs) }]
          end
      end

      class << self
        private

        def sheet(maker, derive, inputs)
          maker.make(derive.title, inputs, names: names(derive))
        end

        # a source of its own side: "degrees_{side}" is degrees_left on the left
        def own(source, side) =
          source.transform_values { |text| text.to_s.sub("{side}", side.to_s) }

        def value(family, config, source, reading, girth)
          return reading.call(source["reading"], source["posture"]) if source["reading"]
          return girth&.call(source["strap"]) if source["strap"]

          option = source["option"] and return family.option(option).value(config[option])
          field = family.fields.find { |f| f.key == source["field"] }
          typed = field ? config[field.key].to_s : ""
          typed.empty? ? nil : typed_value(field, typed)
        end

        def typed_value(field, typed)
          case field.type
          when "length"
            Quantity::Length.parse(typed, unit: field.unit)
          when "number"
            typed.tr(",", ".").to_f
          else
            typed
          end
        end

        def names(derive)
          derive
            .inputs
            .select { |_, source| source["reading"] }
            .to_h do |name, source|
              site = Anatomy::Vocabulary.default.fetch(source["reading"])
              [
                name.to_sym,
                (
                  if source["posture"] && site.postures.size > 1
                    "#{site.name}, #{source["posture"]},"
                  else
                    site.name
                  end
                )
              ]
            end
        end
      end
    end
  end
end

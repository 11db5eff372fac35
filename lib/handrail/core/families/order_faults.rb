# frozen_string_literal: true

module Handrail
  module Families
    # What of an order can not be taken, whoever writes it down: the side, each field, and a field that says
    # another thing than the product.
    #
    #   OrderFaults.of(family, side: "left", fields: { "compartment" => "medial" })
    #   # => { "side" => nil, "fields[compartment]" => nil, "fields[indication]" => "Indication: choose one." }
    module OrderFaults
      # family - a Family; side - a String or nil, where it has none; fields - key => text; options - of the
      # product, nil where none was chosen; name - what the product is called. Returns name of the input =>
      # words, nil where it is fine.
      def self.of(family, side:, fields:, options: nil, name: nil)
        config = family.config({ "side" => side, **fields }, options.to_h)
        {
          "side" => ("Choose a side." unless family.sides.empty? || family.sides.include?(side)),
          **beside_the_rest(family, config, fields),
          **family
            .fields_for(config)
            .to_h do |field|
              typed = fields[field.key]
              [
                "fields[#{field.key}]",
                field.fault(typed) || (options && unlike(family, field, typed.to_s, options, name))
              ]
            end
        }
      end

      # A lone choice of a side is made already.
      def self.side(family, given) = given || (family.sides.one? ? family.sides.first : nil)

      # What is typed of an order and applies, key => text: an empty field is none.
      def self.kept(family, side:, fields:, options: nil)
        config = family.config({ "side" => side, **fields }, options.to_h)
        fields
          .slice(*family.fields_for(config).map(&:key))
          .reject { |_, text| text.to_s.strip.empty? }
      end

      # what is typed where the rest of the order says that there is none; a choice that is left over is none
      def self.beside_the_rest(family, config, fields)
        (family.fields - family.fields_for(config))
          .reject(&:choices)
          .reject { |field| fields[field.key].to_s.strip.empty? }
          .to_h do |field|
            said =
              field
                .when
                .filter_map { |key, _| family.fields.find { |one| one.key == key } }
                .map(&:label)
            said = ["side"] if said.empty?
            words =
              "#{field.label}: something is written here, and “#{said.join(", ")}” says that there is none. "
            ["fields[#{field.key}]", "#{words}Clear it, or change that."]
          end
      end
      private_class_method :beside_the_rest

      # the order and the product must say the same where a field asks for it
      def self.unlike(family, field, typed, options, name)
        option = field.same_as && family.option(field.same_as) or return
        own = options[option.key] || option.default
        return if typed.empty? || typed == own

        "#{field.label}: #{name || "the product"} is made for #{option.print(own).downcase}. Choose that, or " \
          "another product."
      end
      private_class_method :unlike
    end
  end
end

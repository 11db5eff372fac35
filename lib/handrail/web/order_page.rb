# frozen_string_literal: true

module Handrail
  module Web
    # The form of a new order for one device family, or the choice among families.
    class OrderPage
      # How the parts of the body are headed, in the order in which they are shown.
      PLACES = Wording.names("body_places")

      attr_reader :family, :families, :faults

      # family - the one chosen, or nil; values - what was typed; faults - field => what is wrong.
      def initialize(clinic, patient, family: nil, values: {}, faults: {})
        @clinic = clinic
        @patient = patient
        @values = values
        @faults = faults
        @families =
          clinic
            .device_families
            .values
            .select { |one| one.species.include?(patient.species) && clinic.fits?(one.key) }
            .sort_by(&:name)
        @family = family
      end

      # Families by the part of the body: [[name, [Family, ...]], ...].
      def places
        families
          .group_by { |one| PLACES[one.place] || "other" }
          .sort_by { |name, _| PLACES.values.index(name) || 99 }
      end

      # A body to choose on; empty for an animal.
      def body = @patient.animal? ? "" : Drawings::BodyMap.new(families.map(&:place).uniq).to_s

      # What the wearer has already, as Store::Worn::Ones.
      def worn = @worn ||= Store::Worn.of(@clinic, @patient.id)

      def sides = family.sides
      def side = value("side") || (sides.one? ? sides.first : nil)
      def value(name) = @values[name].is_a?(String) ? @values[name] : nil
      def typed(field) = @values["fields"].is_a?(Hash) ? @values["fields"][field.key] : nil
      def fault(field) = faults["fields[#{field.key}]"]

      # The names of the inputs beside which stands what is wrong with them.
      def own_fields =
        [
          *("side" if sides.size > 1),
          *family.fields.map { |field| "fields[#{field.key}]" },
          "prescriber",
          "prescribed_on",
          "product_id",
          "despite"
        ]

      def products
        @products ||=
          Store::Product
            .where(clinic_id: @clinic.id, family: family.key, offered: true)
            .eager(:maker)
            .order(:id)
            .all
      end

      # A lone choice is made already; of several the one that was ordered last is proposed.
      def chosen?(product)
        return true if products.one?

        (value("product_id") || last_product.to_s) == product.id.to_s
      end

      # Who prescribed: as typed, else who prescribed this wearer's last device.
      def prescriber =
        value("prescriber") || (@values["prescriber"] ? "" : @patient_last ||= last_prescriber)

      # Who prescribed here lately, for completing.
      def prescribers
        Store::Referrers.of(@clinic)
      end

      # the product of this family that was ordered last
      def last_product
        return @last_product if defined?(@last_product)

        @last_product =
          Store.db[:fittings]
            .where(clinic_id: @clinic.id, product_id: products.map(&:id))
            .reverse(:id)
            .get(:product_id)
      end
      private :last_product

      def last_prescriber
        Store::Prescription
          .where(clinic_id: @clinic.id, patient_id: @patient.id)
          .reverse(:id)
          .get(:prescriber)
      end
      private :last_prescriber

      # What a product's choices mean, a sentence each.
      def option_words(product)
        family
          .options
          .select(&:choice?)
          .filter_map do |option|
            chosen = option.choice(product.options[option.key] || option.default)
            chosen && (chosen.says || "#{option.label}: #{chosen.label.downcase}.")
          end
      end
    end
  end
end

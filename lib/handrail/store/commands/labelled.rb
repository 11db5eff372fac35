# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What a reader types into the field of a number or a lot, taken apart; shared by the commands that write
      # down a piece. A piece whose day has passed is not given out, and a label that stands on another product
      # or size is not this piece's.
      module Labelled
        private

        # A Labels::ElementString::Label of the first text that is one, or nil. Raises Unacceptable. texts -
        # field => text
        def label_of(texts, clinic)
          texts.each do |field, text|
            label = Labels::ElementString.read(text, today: clinic.today) or next
            if label.use_by && label.use_by < clinic.today
              unacceptable(
                field,
                Wording.t("labels.expired", on: Quantity::Day.write(label.use_by))
              )
            end
            return label
          rescue Labels::ElementString::Unsound => e
            unacceptable(field, e.message)
          end
          nil
        end

        # What was typed as serial number and lot, where one of them is a bar code: @label, and the two as the label
        # has them, else as they were typed.
        def take_apart(clinic)
          @label = label_of({ "serial" => serial, "lot" => lot }, clinic) or return
          @serial = @label.serial || (serial unless Labels::ElementString.like?(serial))
          @lot = @label.lot || (lot unless Labels::ElementString.like?(lot))
        end

        # What a product's number stood on before, of another product or size: words, or nil.
        def stands_on(gtin, clinic, product_id:, size:)
          return unless gtin

          %i[issued_devices stock_items].each do |table|
            row =
              Store.db[table]
                .where(clinic_id: clinic.id, gtin: gtin)
                .exclude(product_id: product_id, size: size)
                .reverse(:id)
                .first or next
            name = Product.first(clinic_id: clinic.id, id: row[:product_id]).full_name
            return Wording.t("labels.another", product: name, size: row[:size])
          end
          nil
        end

        def label_values(label) = label ? label.to_h.slice(:gtin, :made_on, :use_by) : {}
      end
    end
  end
end

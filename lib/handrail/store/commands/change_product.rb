# frozen_string_literal: true

require "digest"

module Handrail
  module Store
    module Commands
      # Changes a product's options, or whether it is offered. Fittings that run or are closed keep
      # what they were made on; running ones are offered the change. Somebody else's change
      # meanwhile is told, not overwritten.
      #
      #   ChangeProduct.new("product" => 4, "seen" => ChangeProduct.fingerprint(product), "options" => { "type" =>
      #   "dial" })
      class ChangeProduct < ClinicCommand
        include ProductOptions

        role :senior
        input :product, :id
        input :seen, :line, most: 40
        input :offered, :one_of, of: %w[yes no], default: "yes"
        input :options, :map, lists: true

        # Changes whenever what the options form shows has changed.
        def self.fingerprint(product)
          Digest::SHA256.hexdigest([product.options.to_h.sort, product.offered].inspect)[0, 16]
        end

        def perform(clinic, _account)
          fresh = Product.where(clinic_id: clinic.id, id: product).for_update.first or
            unacceptable("product", t(:no_such_product))
          raise Faults, "seen" => changed(fresh) if seen && seen != self.class.fingerprint(fresh)

          kept = read_options(fresh.device_family, options)
          fresh.update(options: Store.json(kept), offered: offered == "yes")
          [t(:product_changed, full_name: fresh.full_name), { "product" => fresh.id }]
        end

        private

        def changed(fresh)
          now =
            fresh.device_family.options.map do |option|
              "#{option.label} #{option.print(fresh.options[option.key] || option.default)}"
            end
          t(:changed_while_your_page, now: now.join(", "))
        end
      end
    end
  end
end

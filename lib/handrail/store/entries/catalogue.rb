# frozen_string_literal: true

require "digest"

module Handrail
  module Store
    module Entries
      # Makers, products and their dated charts.
      module Catalogue
        class << self
          # form - Hash: "maker", "name", "family", "options" => { key => text }. Returns the Product. Raises Faults.
          def create(clinic, account, form)
            family = Families::Shelf.all[form["family"]]
            options, faults = family ? options(family, form["options"]) : [{}, { "family" => "Choose the device family." }]
            faults["maker"] = "Write the maker's name." if form["maker"].to_s.strip.empty?
            faults["name"] = "Write the product's name." if form["name"].to_s.strip.empty?
            raise Faults, faults if faults.any?

            Store.as(account.id) do
              maker = Maker.find_or_create(clinic_id: clinic.id, name: form["maker"].strip)
              Product.create(clinic_id: clinic.id, maker_id: maker.id, family: family.key, name: form["name"].strip, options: Store.json(options))
            end
          rescue Sequel::UniqueConstraintViolation
            raise Faults, "name" => "#{form['maker']} has a product of that name already."
          end

          # Changes a product's options, or whether it is offered. form["seen"] - the fingerprint that the page showed: somebody else's
          # change meanwhile is told, not overwritten. Raises Faults.
          def update(account, product, form)
            options, faults = options(product.device_family, form["options"])
            raise Faults, faults if faults.any?

            Store.as(account.id) do
              fresh = Product.where(clinic_id: product.clinic_id, id: product.id).for_update.first
              raise Faults, "seen" => changed(fresh) if form["seen"] && form["seen"] != fingerprint(fresh)

              fresh.update(options: Store.json(options), offered: form["offered"] != "no")
            end
          end

          # Changes whenever what the options form shows has changed.
          def fingerprint(product) = Digest::SHA256.hexdigest([product.options.to_h.sort, product.offered].inspect)[0, 16]

          # Puts a chart in force from a day on. Older fittings keep the one they were sized on. rows - Sizing::Chart::Rows.
          # Returns the ChartRevision. Raises Faults with the rows at fault.
          def chart(account, product, rows, dated:, tie_rule:, primary_site: nil)
            faults = {}
            day = day(dated, faults)
            faults["tie_rule"] = "Choose how a tie is settled." unless Sizing::TieRule::NAMES.include?(tie_rule)
            faults["primary_site"] = "Name the site that decides, one of the chart's." if tie_rule == "primary" && rows.none? do |row|
              row.site == primary_site
            end
            faults["rows"] = "The chart has no rows." if rows.empty?
            Sizing::ChartCheck.new(rows).findings.select { |f| f.state == :stop }.each { |f| faults["row #{f.row + 1}"] = "row #{f.row + 1}: #{f}" }
            raise Faults, faults if faults.any?

            Store.as(account.id) do
              ChartRevision.add(product, rows, dated: day, tie_rule: tie_rule, primary_site: tie_rule == "primary" ? primary_site : nil)
            end
          rescue Sequel::UniqueConstraintViolation
            raise Faults, "dated" => "There is a chart of that day already. Date the new one a day later; the old one stays as it is."
          end

          private

          def changed(product)
            now = product.device_family.options.map { |option| "#{option.label} #{option.print(product.options[option.key] || option.default)}" }
            "This changed while your page was open; nothing of yours is lost. It is now: #{now.join(', ')}. " \
              "Yours is still in the form: send it again if it holds."
          end

          def day(text, faults)
            Quantity::Day.read(text)
          rescue Quantity::Day::Unreadable => e
            faults["dated"] = e.message
            nil
          end

          # [values, faults]: lists of lengths are typed with commas or semicolons between them
          def options(family, typed)
            typed = Hash.try_convert(typed) || {}
            faults = {}
            values = family.options.to_h do |option|
              raw = typed[option.key].to_s.strip
              raw = raw.empty? ? option.default : read(option, raw)
              fault = option.fault(raw)
              faults["options[#{option.key}]"] = fault if fault
              [option.key, raw]
            end
            [values, faults]
          end

          def read(option, raw) = option.type == "lengths" ? raw.split(/[;,]\s+|;/).map(&:strip).reject(&:empty?) : raw
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # The size chosen, and the device that was taken from the shelf for it.
      module Sizes
        class << self
          # Chooses a size of the product's chart. why - needed when it is not the one advised.
          # What was advised, on which chart revision, and why, is kept with the choice.
          def choose(ledger, size, why: nil)
            ledger.write("size", watch: [/\Areading:/, /\Asize\z/]) do |owner, record|
              Entries.pass(record, :size)
              match = record.match or raise Unacceptable.new("size", "This product has no size chart yet. Add one to the catalogue.")
              known = names(record.chart)
              raise Unacceptable.new("size", "The chart has no size “#{size}”. It has #{known.join(', ')}.") unless known.include?(size)

              different = why_different(match, size, why)
              Store.db[:size_choices].insert(**owner, **choice(record, match, size), why_different: different)
              "size #{size} chosen#{", #{match.size || 'none'} was advised: #{different}" if different}"
            end
          end

          # Writes down which device is being fitted. One of serial and lot is needed.
          def issue(ledger, serial:, lot:)
            serial = Entries.optional(serial)
            lot = Entries.optional(lot)
            raise Unacceptable.new("serial", "Write the serial number or the lot: the device must be found again.") unless serial || lot

            ledger.write("device") do |owner, record|
              Entries.pass(record, :fit)
              Store.db[:issued_devices].insert(**owner, fitting_id: record.fitting.id, product_id: record.product.id, size: record.choice[:chosen],
                                                        serial: serial, lot: lot, configuration: Store.json(configuration(record)))
              "device #{[serial && "serial #{serial}", lot && "lot #{lot}"].compact.join(', ')}"
            end
          end

          # Every size name that a chart gives: one size of each part, joined by a space.
          def names(chart)
            first, *rest = chart.parts.map { |part| part.sizes.map(&:name) }
            first.product(*rest).map { |names| names.reject(&:empty?).join(" ") }
          end

          private

          def why_different(match, size, why)
            return if size == match.size

            Entries.said(why, "why", "#{match.size ? "#{match.size} is advised" : 'No size is advised'}. Say why you take #{size}.")
          end

          def choice(record, match, size)
            { chart_revision_id: record.revision.id, verdict: match.verdict.to_s, advised: match.size, chosen: size, probability: match.probability,
              margin_mm: match.margin && Store.numeric(match.margin), reason: match.reason, configuration: Store.json(configuration(record)) }
          end

          def configuration(record) = record.configuration&.gives.to_h.merge(record.config)
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # The size chosen for each side, what was tried, and the device that was taken from the shelf for it.
      module Sizes
        class << self
          # Chooses a size for a side. why - needed when it is not the one advised. What was advised, on which chart revision or sheet,
          # and why, is kept with the choice; a piece on the shelf is held.
          def choose(ledger, size, why: nil, side: nil)
            ledger.write("size:#{side}", watch: [/\Areading:/, /\Asize/]) do |owner, record|
              Entries.pass(record, :size)
              side = side_of(record, side)
              advice = record.advice(side) or raise Unacceptable.new("size", "This product has no size chart yet. Add one to the catalogue.")
              unless advice.names.include?(size)
                raise Unacceptable.new("size",
                                       "There is no size “#{size}” here. Choose one of #{advice.names.join(', ')}.")
              end

              different = why_different(advice, size, why)
              Store.db[:size_choices].insert(**owner, **choice(record, advice, size, side), side: side, why_different: different)
              said(record, side, size, advice, different, Stock.reserve(record, size, side))
            end
          end

          # What was seen with a trial size on the body.
          def trial(ledger, size, outcome, side: nil)
            ledger.write("trial:#{side}", watch: [/\Atrial:/, /\Asize/]) do |owner, record|
              Entries.pass(record, :size)
              side = side_of(record, side)
              raise Unacceptable.new("size", "Choose the trial size that is on.") unless record.chart&.names&.include?(size)
              raise Unacceptable.new("outcome", "Say what you see.") unless %w[good small large].include?(outcome)

              Store.db[:size_trials].insert(**owner, side: side, size: size, outcome: outcome)
              "#{[side, 'trial size', size].compact.join(' ')}: #{{ 'good' => 'right', 'small' => 'too small', 'large' => 'too large' }[outcome]}"
            end
          end

          # Writes down which device is being fitted on a side. One of serial and lot is needed.
          def issue(ledger, serial:, lot:, side: nil)
            serial = Entries.optional(serial)
            lot = Entries.optional(lot)
            raise Unacceptable.new("serial", "Write the serial number or the lot: the device must be found again.") unless serial || lot

            ledger.write("device:#{side}") do |owner, record|
              Entries.pass(record, :size)
              side = side_of(record, side)
              chosen = record.choice(side) or raise Unacceptable.new("size", "Choose the size first.")
              Store.db[:issued_devices].insert(**owner, fitting_id: record.fitting.id, product_id: record.product.id,
                                                        size: chosen[:chosen], side: side,
                                                        serial: serial, lot: lot, configuration: Store.json(configuration(record)),
                                                        stock_item_id: record.reserved(side)&.fetch(:id))
              "#{[side_word(record, side), 'device'].compact.join(' ')} #{[serial && "serial #{serial}", lot && "lot #{lot}"].compact.join(', ')}"
            end
          end

          private

          def side_of(record, side)
            side = Entries.optional(side) || record.sides.first
            record.sides.include?(side) ? side : raise(Unacceptable.new("side", "Choose #{record.sides.join(' or ')}."))
          end

          def side_word(record, side) = record.sides.one? ? nil : side

          def said(record, side, size, advice, different, shelf)
            ["#{[side_word(record, side), 'size'].compact.join(' ')} #{size} chosen",
             different && "#{advice.size || 'none'} was advised: #{different}", shelf].compact.join(", ")
          end

          def why_different(advice, size, why)
            return if size == advice.size

            Entries.said(why, "why", "#{advice.size ? "#{advice.size} is advised" : 'No size is advised'}. Say why you take #{size}.")
          end

          def choice(record, advice, size, _side)
            sheet = record.family.size_rule.by == "sheet" ? Store.json(sheet_kept(advice.sheet)) : nil
            { chart_revision_id: sheet ? nil : record.revision.id, verdict: advice.verdict, advised: advice.size, chosen: size, sheet: sheet,
              probability: advice.probability, margin_mm: advice.margin && Store.numeric(advice.margin), reason: advice.reason,
              configuration: Store.json(configuration(record)) }
          end

          # the figures as they stood
          def sheet_kept(sheet)
            { "key" => sheet.key, "title" => sheet.title, "lines" => sheet.lines.map do |line|
              [line.label, line.value.to_s, line.how]
            end, "notes" => sheet.notes.map(&:text) }
          end

          def configuration(record) = record.configuration&.gives.to_h.merge(record.config)
        end
      end
    end
  end
end

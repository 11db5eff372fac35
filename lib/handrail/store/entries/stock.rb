# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # The shelf: choosing reserves a piece, hand-over takes it, a return puts it back.
      module Stock
        class << self
          # Puts pieces on the shelf. Returns how many. Raises Faults.
          def receive(clinic, account, product, size:, side: "", count: "1", lot: nil)
            number = Integer(count.to_s.strip, 10, exception: false)
            faults = faults(product, size, side)
            faults["count"] = "Write how many, from 1 to 200." unless number&.between?(1, 200)
            raise Faults, faults if faults.any?

            Store.as(account.id) do
              number.times do
                Store.db[:stock_items].insert(clinic_id: clinic.id, product_id: product.id, size: size, side: side.to_s, lot: Entries.optional(lot),
                                              received_at: Store.now)
              end
            end
            number
          end

          # Sets the least that should stand there. Raises Faults.
          def level(clinic, account, product, size:, side: "", least: "0")
            number = Integer(least.to_s.strip, 10, exception: false)
            faults = faults(product, size, side)
            faults["least"] = "Write the least to keep, from 0 to 999." unless number&.between?(0, 999)
            raise Faults, faults if faults.any?

            Store.as(account.id) do
              Store.db[:stock_levels].insert_conflict(target: %i[product_id size side], update: { least: number })
                   .insert(clinic_id: clinic.id, product_id: product.id, size: size, side: side.to_s, least: number)
            end
          end

          # A piece comes back to the shelf. Raises Unacceptable.
          def put_back(clinic, account, item_id)
            Store.as(account.id) do
              back = Store.db[:stock_items].where(clinic_id: clinic.id, id: item_id.to_i, state: %w[reserved taken]).update(state: "shelf",
                                                                                                                            fitting_id: nil)
              raise Unacceptable.new("item", "That piece is on the shelf already, or is gone.") if back.zero?
            end
          end

          # Holds a piece of this size for a fitting, after giving back what was held for the side; inside an entry's transaction.
          # Returns what to say.
          def reserve(record, size, side)
            shelf = Store.db[:stock_items].where(clinic_id: record.clinic.id, product_id: record.product.id)
            shelf.where(fitting_id: record.fitting.id, state: "reserved", side: ["", side.to_s].uniq)
                 .where(id: held_for(record, side)).update(state: "shelf", fitting_id: nil)
            item = shelf.where(size: size, state: "shelf", side: ["", side.to_s].uniq).order(:received_at, :id).for_update.skip_locked.first
            return shelf.empty? ? nil : "none on the shelf, to be ordered" unless item

            shelf.where(id: item[:id]).update(state: "reserved", fitting_id: record.fitting.id)
            "one held from the shelf"
          end

          # What was held is worn now; inside an entry's transaction.
          def take(record)
            Store.db[:stock_items].where(clinic_id: record.clinic.id, fitting_id: record.fitting.id, state: "reserved").update(state: "taken")
          end

          private

          # of an unsided stock two pieces are held for a pair: give back the one of this side's last choice only
          def held_for(record, side)
            chosen = record.rows(:size_choices).reverse.find { |row| (row[:side] || record.sides.first) == side } or return []
            Store.db[:stock_items].where(clinic_id: record.clinic.id, fitting_id: record.fitting.id, state: "reserved", size: chosen[:chosen])
                 .order(:id).limit(1).select_map(:id)
          end

          def faults(product, size, side)
            names = product.size_names
            faults = {}
            faults["size"] = "Choose a size: #{names.join(', ')}." unless names.include?(size)
            faults["side"] = "Choose left, right, or neither." unless ["", "left", "right"].include?(side.to_s)
            faults
          end
        end
      end
    end
  end
end

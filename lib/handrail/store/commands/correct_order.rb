# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Puts an order right. What it was stays in the record, struck, with the reason. A correction that changes what
      # is asked, read, set or pushed opens all of that again: it rests on the order. Readings stay, each of its own
      # side.
      #
      #   CorrectOrder.new("side" => "right", "prescriber" => "Dr Weatherby", "prescribed_on" => "20 Nov 2026",
      #                    "product_id" => "4", "fields" => { ... }, "why" => "the letter says right")
      #
      # Refuses what WriteOrder refuses, and once the device was handed over whatever changes more than the paper.
      class CorrectOrder < VisitCommand
        include OrderValues

        input :product_id, :line, most: 20
        input :side, :key
        input :prescriber, :line, most: 200
        input :prescribed_on, :line, most: 40
        input :fields, :map
        input :why,
              :text,
              least: 5,
              most: 300,
              missing: t(:say_what_wrong),
              short: t(:say_what_wrong_few)

        def topic = "order"
        # whatever somebody else wrote meanwhile is looked at first
        def watch = [//]
        def opens? = false
        def correction? = true

        def decide(visit)
          pass!(visit)
          product = product_of(visit)
          meant = Families::OrderFaults.side(visit.family, side)
          refuse!(order_faults(visit.clinic, visit.family, product, meant))
          was = told(visit)
          now = told_now(visit, product, meant)
          changed = now.reject { |key, value| was[key] == value }
          other = product.id != visit.fitting.product_id
          unacceptable("why", t(:nothing_changed_yet)) if changed.empty? && !other

          opened = opens_again(visit, now, product) || other
          refuse_late(visit) if opened
          decision(visit, was, changed, other ? product : nil, opened)
        end

        private

        def decision(visit, was, changed, product, opened)
          lines = words(visit, was, changed)
          lines << "product #{visit.product.full_name} → #{product.full_name}" if product
          kept =
            if changed.any?
              {
                corrected: Store.json(changed),
                was: Store.json(was.slice(*changed.keys)),
                why: why
              }
            end
          left =
            (
              if product
                visit.sides
              else
                visit.sides - Measuring::Plan.sides(changed.fetch("side", visit.side))
              end
            )
          Decision.of(
            t(:order_corrected, lines: lines.join("; "), why: why),
            rows: kept ? [[:order_corrections, kept]] : [],
            updates: pieces_of(visit, left),
            effects: opened ? again(visit, product, left) : []
          )
        end

        # what was written down of a side that is no longer ordered, or of another product, is not fitted
        def pieces_of(visit, sides)
          visit
            .rows_of_fitting(:issued_devices)
            .select { |row| row[:ended_at].nil? && sides.include?(row[:side]) }
            .map do |row|
              [
                :issued_devices,
                row[:id],
                { ended_at: Store.now, ended_why: "returned", ended_by: :account }
              ]
            end
        end

        # what rested on the order is looked at anew; what was held for such a side, or of another product, goes back
        def again(visit, product, sides)
          pin = product ? Pin.of_product(visit.clinic, visit.pin, product) : visit.pin
          held =
            visit.source.stock.select do |row|
              row[:state] == "reserved" && sides.map(&:to_s).include?(row[:held_side].to_s)
            end
          [
            Effects::GiveBack[ids: held.map { |row| row[:id] }],
            (Effects::ChangeProduct[product_id: product.id] if product),
            Effects::SetPin[current: pin, offer: nil]
          ].compact
        end

        def product_of(visit)
          id = Inputs.whole(product_id, 1..Inputs::LARGEST_ID)
          return Product[visit.fitting.product_id] if id.nil? || id == visit.fitting.product_id

          Product.where(
            clinic_id: visit.clinic.id,
            id: id,
            family: visit.family.key,
            offered: true
          ).first
        end

        # the order as a Hash that can be kept
        def told(visit)
          order = visit.prescription
          {
            "side" => order.side,
            "prescriber" => order.prescriber,
            "prescribed_on" => order.prescribed_on.iso8601,
            "fields" => order.fields.to_h
          }
        end

        # fields that were emptied are kept empty, so that they are told apart from those never spoken of
        def told_now(visit, product, meant)
          fields = ordered_fields(visit.family, product, meant)
          gone = visit.prescription.fields.to_h.keys - fields.keys
          {
            "side" => meant,
            "prescriber" => prescriber,
            "prescribed_on" => prescribed_day(visit.clinic.today).iso8601,
            "fields" => {
              **fields,
              **gone.to_h { |key| [key, ""] }
            }
          }
        end

        # whether anything else is asked, read, set or done under the order as it is now
        def opens_again(visit, now, product)
          family = visit.family
          ordered = { "side" => now["side"], **now["fields"].reject { |_, text| text.empty? } }
          after = family.config(ordered, product.options.to_h)
          before =
            family.config(
              { "side" => visit.prescription.side, **visit.prescription.fields.to_h },
              visit.product.options
            )
          Families::Asked.of(family, before) != Families::Asked.of(family, after)
        end

        def refuse_late(visit)
          return unless visit.handed_over? || visit.recheck?

          unacceptable("why", t(:device_handed_over_order))
        end

        # "Side left → right", of all that changed
        def words(visit, was, changed)
          changed.flat_map do |key, value|
            next fields_said(visit, was[key], value) if key == "fields"

            before, after =
              [was[key], value].map do |one|
                key == "prescribed_on" ? Quantity::Day.write(Date.iso8601(one)) : one
              end
            ["#{key.tr("_", " ")} #{before} → #{after}"]
          end
        end

        def fields_said(visit, was, now)
          visit.family.fields.filter_map do |field|
            before, after =
              [was[field.key], now[field.key]].map do |text|
                text.to_s.empty? ? "none" : field.print(text)
              end
            "#{field.label} #{before} → #{after}" unless before == after
          end
        end
      end
    end
  end
end

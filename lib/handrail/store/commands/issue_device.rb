# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Writes down which device is being fitted on a side, so that it can be found again. Where one
      # is written down already it is said what the new number is: of the same piece, whose number was
      # mistyped, or of another piece, which is looked at as a whole: steps, checks and teach-back of
      # the one before count no longer. A piece that was worn and is replaced is gone.
      #
      #   IssueDevice.new("serial" => "WH-20501", "side" => "left")
      #   IssueDevice.new("serial" => "WH-20510", "side" => "left", "same" => "mistyped")
      #
      # Refuses without a serial number or a lot, before a size was chosen, without a word on which of
      # the two it is, a number put right for a piece of another size than was chosen, and a serial number
      # that is worn elsewhere, unless a senior says why (`shared_why`).
      #
      # What a bar code reader types is taken apart, see Labelled: serial number, lot, the product's number and days
      # are kept. A product's number that stood on another product or size before is refused, unless a senior says
      # why (`label_why`).
      class IssueDevice < VisitCommand
        include Labelled

        input :serial, :line, most: 80
        input :lot, :line, most: 80
        input :side, :key
        input :same, :one_of, of: %w[mistyped another], default: nil
        input :shared_why, :line, most: 300
        input :label_why, :line, most: 300, default: nil

        # Two pieces under one number are a senior's matter.
        def authorize!(account)
          super
          return if account.senior?

          unacceptable("shared_why", t(:only_senior_writes_why)) if shared_why
          unacceptable("label_why", Wording.t("labels.senior")) if label_why
        end

        # another connection wrote the same number down meanwhile
        def doubled(_error)
          Unacceptable.new("serial", t(:written_down_another_piece, serial: serial))
        end

        def topic = "device:#{side}"
        def watch = [/\Adevice:/, /\Asize/]

        def decide(visit)
          take_apart(visit.clinic)
          unacceptable("serial", t(:write_serial_number_lot)) unless serial || lot
          pass!(visit)
          own = side_of(visit, side)
          once!(visit, own)
          chosen = visit.sizing.choice(own) or unacceptable("size", t(:choose_size_first))
          was = visit.sizing.device(own)
          right = was && put_right?(visit, own, was)
          its_own!(visit, chosen)
          Decision.of(
            said(visit, own, was, right),
            rows: [[:issued_devices, values(visit, own, chosen, right ? was : nil)]],
            updates: was ? [ended(was, right)] : [],
            effects: right ? [] : gone(visit, was)
          )
        end

        private

        def its_own!(visit, chosen)
          return if @label.nil? || label_why

          other =
            stands_on(
              @label.gtin,
              visit.clinic,
              product_id: visit.fitting.product_id,
              size: chosen[:chosen]
            ) or return
          unacceptable("serial", other)
        end

        # a number that is worn already is looked at again, before it is anybody else's
        def once!(visit, own)
          worn = serial && !shared_why && visit.source.worn_elsewhere(serial, own) or return
          where =
            if worn[:fitting_id] == visit.fitting.id
              t(:written_down_side, side: worn[:side])
            else
              t(:is_worn_by, record_number: worn[:record_number])
            end
          unacceptable("serial", t(:number_elsewhere, serial: serial, where: where))
        end

        # whether it is the same piece, under its right number
        def put_right?(visit, own, was)
          return false unless visit.sizing.device_fits?(own)

          case same
          when "mistyped"
            true
          when "another"
            false
          else
            return true if was.values_at(:serial, :lot) == [serial, lot]

            unacceptable("same", t(:written_down_number_mistyped, lot: was[:serial] || was[:lot]))
          end
        end

        def said(visit, own, was, right)
          number = Wording.device_numbers(serial: serial, lot: lot)
          words =
            if right
              t(:device_mistyped, lot: was[:serial] || was[:lot], number: number)
            elsif was
              t(:another_piece, number: number)
            else
              t(:device, number: number)
            end
          with_side(
            visit,
            own,
            [words, label_why && t(:label_of_another_piece, label_why: label_why)].compact.join(
              "; "
            )
          )
        end

        # before - the row of the same piece under its mistyped number, or nil
        def values(visit, own, chosen, before)
          {
            fitting_id: visit.fitting.id,
            product_id: visit.fitting.product_id,
            size: chosen[:chosen],
            side: own,
            serial: serial,
            lot: lot,
            shared_why: shared_why,
            **label_values(@label),
            piece: before && (before[:piece] || before[:version]),
            stock_item_id: before ? before[:stock_item_id] : visit.sizing.reserved(own)&.fetch(:id),
            configuration: Store.json(visit.configuration&.gives.to_h.merge(visit.config).compact)
          }
        end

        def ended(device, right)
          [
            :issued_devices,
            device[:id],
            {
              ended_at: Store.now,
              ended_why: right ? "written_anew" : "replaced",
              ended_by: :account
            }
          ]
        end

        # the piece of a device that was worn until now
        def gone(visit, device)
          return [] unless device && device[:visit_id] != visit.id && device[:stock_item_id]

          [Effects::RetirePieces[ids: [device[:stock_item_id]]]]
        end
      end
    end
  end
end

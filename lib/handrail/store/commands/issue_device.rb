# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Writes down which device is being fitted on a side, so that it can be found again. A device
      # that was written down for the side before is written anew at this visit, or replaced at a
      # later one; a replaced device's piece is gone.
      #
      #   IssueDevice.new("serial" => "WH-20501", "side" => "left")
      #
      # Refuses without a serial number or a lot, and before a size was chosen.
      class IssueDevice < VisitCommand
        input :serial, :line, most: 80
        input :lot, :line, most: 80
        input :side, :key

        def topic = "device:#{side}"
        def watch = [/\Adevice:/, /\Asize/]

        def decide(visit)
          unless serial || lot
            unacceptable(
              "serial",
              "Write the serial number or the lot: the device must be found again."
            )
          end
          pass!(visit, :size)
          own = side_of(visit, side)
          chosen = visit.choice(own) or unacceptable("size", "Choose the size first.")
          was = visit.device(own)
          Decision.of(
            said(visit, own),
            rows: [[:issued_devices, values(visit, own, chosen)]],
            updates: was ? [ended(visit, was)] : [],
            effects: gone(visit, was)
          )
        end

        private

        def said(visit, own)
          with_side(
            visit,
            own,
            "device #{[serial && "serial #{serial}", lot && "lot #{lot}"].compact.join(", ")}"
          )
        end

        def values(visit, own, chosen)
          {
            fitting_id: visit.fitting.id,
            product_id: visit.fitting.product_id,
            size: chosen[:chosen],
            side: own,
            serial: serial,
            lot: lot,
            stock_item_id: visit.reserved(own)&.fetch(:id),
            configuration: Store.json(visit.configuration&.gives.to_h.merge(visit.config).compact)
          }
        end

        def ended(visit, device)
          why = device[:visit_id] == visit.id ? "written_anew" : "replaced"
          [
            :issued_devices,
            device[:id],
            { ended_at: Store.now, ended_why: why, ended_by: :account }
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

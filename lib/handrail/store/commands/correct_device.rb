# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Puts the number of a piece of a closed visit right: it is the same piece, so nothing that was looked at on it
      # is asked again. A bar code is taken apart, see Labelled.
      #
      #   CorrectDevice.new("corrects" => "40", "serial" => "WH-20501", "why" => "two figures turned")
      #
      # Refuses on an open visit (say there that it was mistyped), a number that was corrected already, one that is
      # worn elsewhere, and a label that stands on another product or size.
      class CorrectDevice < VisitCommand
        include Labelled

        input :piece, :id, from: "corrects"
        input :serial, :line, most: 80
        input :lot, :line, most: 80
        input :why, :text, most: 300, missing: t(:say_why_corrected)

        def topic = "device-row:#{piece}"
        def correction? = true
        def opens? = false

        # another connection wrote the same number down, or corrected it, meanwhile
        def doubled(_error) = Unacceptable.new("serial", Wording.t("corrected.doubled"))

        def decide(visit)
          unacceptable("visit", Wording.t("corrected.open")) unless visit.closed?
          old = visit.rows(:issued_devices).find { |row| row[:id] == piece } or
            unacceptable("serial", Wording.t("corrected.none"))
          if old[:ended_why] == "written_anew"
            unacceptable("serial", Wording.t("corrected.already"))
          end

          take_apart(visit.clinic)
          unacceptable("serial", Wording.t("corrected.empty")) unless serial || lot
          free!(visit, old)
          Decision.of(
            with_side(
              visit,
              old[:side],
              t(
                :device_correction,
                before: old[:serial] || old[:lot],
                after: serial || lot,
                why: why
              )
            ),
            rows: [[:issued_devices, values(old)]],
            updates: [
              [
                :issued_devices,
                old[:id],
                { ended_at: Store.now, ended_why: "written_anew", ended_by: :account }
              ]
            ]
          )
        end

        private

        def free!(visit, old)
          worn = serial && serial != old[:serial] && visit.source.worn_elsewhere(serial, old[:side])
          if worn
            unacceptable(
              "serial",
              Wording.t("corrected.worn", serial: serial, record: worn[:record_number])
            )
          end

          other =
            stands_on(@label&.gtin, visit.clinic, product_id: old[:product_id], size: old[:size])
          unacceptable("serial", other) if other
        end

        def values(old)
          {
            **old.slice(:fitting_id, :product_id, :size, :side, :stock_item_id),
            **(@label ? label_values(@label) : old.slice(:gtin, :made_on, :use_by)),
            configuration: Store.json(old[:configuration]),
            serial: serial,
            lot: lot,
            piece: old[:piece] || old[:version],
            corrects_id: old[:id],
            correction_reason: why
          }
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    module Stages
      # Handing over and rechecking.
      module Finishing
        def self.registered(app)
          app.get("/:id/hand-over") do
            clinical!
            stage(:hand_over, record!)
          end

          app.post("/:id/hand-over") do
            enter(:hand_over) do |ledger, record|
              Store::Entries::Handing.hand_over(ledger, start_hours: params["start_hours"], signed_name: params["signed_name"],
                                                        signature: params["signature"])
              stage_path(record.visit.id, :hand_over)
            end
          end

          app.post("/:id/override") do
            enter(:hand_over) do |ledger, _record|
              Store::Entries::Handing.override(ledger, reason: params["reason"])
              nil
            end
          end

          # in large type, for the wearer
          app.get("/:id/sheet") do
            clinical!
            erb :"visits/sheet", layout: :print, locals: { record: record! }
          end

          app.get("/:id/recheck") do
            clinical!
            record = record!
            next redirect(stage_path(record.visits.last.id, :recheck)) if record.visit.first? && record.visits.size > 1

            stage(:recheck, record)
          end

          app.post("/:id/answers") do
            enter(:recheck) do |ledger, record|
              Store::Entries::Handing.answer(ledger, record, params["field"], params["answer"])
              nil
            end
          end

          app.post("/:id/close") do
            enter(:recheck) do |ledger, record|
              Store::Entries::Handing.close_recheck(ledger)
              "/visits/#{record.visit.id}/record"
            end
          end

          # on a closed visit: a new row that names the old one
          app.post("/:id/corrections") do
            clinical!
            record = record!
            correct(ledger(record), record)
            redirect "/visits/#{record.visit.id}/record", 303
          rescue Store::Unacceptable => e
            status 422
            erb :"visits/record", locals: { record: record, fault: e, values: params }
          rescue Store::Stale
            status 409
            sentence = "Someone else corrected this meanwhile. Their correction is shown here; what you typed is kept below."
            fault = Store::Unacceptable.new("visit", sentence)
            erb :"visits/record", locals: { record: record!, fault: fault, values: params }
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    module Stages
      # The order, and the questions before anything is measured.
      module Ordering
        def self.registered(app)
          app.get("/:id/order") do
            clinical!
            stage(:order, record!)
          end

          app.post("/:id/order") do
            enter(:order) do |ledger, record|
              Store::Entries::Orders.ask(ledger, record, identity: params["identity"] == "yes", stops: Array(params["stops"]),
                                                         care: Array(params["care"]), note: params["note"],
                                                         pressures: Hash.try_convert(params["pressures"]) || {},
                                                         specialist: params["specialist"] == "yes")
              fresh = record!
              next nil if fresh.progress.stops.any?

              stage_path(record.visit.id, record.recheck? ? :recheck : :measure)
            end
          end

          # for the prescriber, when a stop sign was found
          app.get("/:id/referral") do
            clinical!
            erb :"visits/referral", layout: :print, locals: { record: record! }
          end
        end
      end
    end
  end
end

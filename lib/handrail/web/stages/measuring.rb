# frozen_string_literal: true

module Handrail
  module Web
    module Stages
      # Readings and the size they give.
      module Measuring
        def self.registered(app)
          app.get("/:id/measure") do
            clinical!
            stage(:measure, record!)
          end

          app.post("/:id/readings") do
            enter(:measure) do |ledger, record|
              how = { posture: params["posture"], tension: params["tension"], entry_key: params["entry_key"] }
              row = Store::Entries::Readings.take(ledger, record, site: params["site"], side: params["side"], typed: params["value"],
                                                                  unit: params["unit"], **how)
              StagePage.after_reading(record!, row, params)
            end
          end

          app.post("/:id/readings/:row/answer") do
            enter(:measure) do |ledger, record|
              Store::Entries::Readings.answer(ledger, record, params["row"], params["answer"])
              { "at" => params["at"], "unit" => params["unit"] }
            end
          end

          app.post("/:id/readings/:row/strike") do
            enter(:measure) do |ledger, record|
              Store::Entries::Readings.strike(ledger, record, params["row"], params["reason"])
              { "at" => params["at"], "unit" => params["unit"] }
            end
          end

          app.get("/:id/size") do
            clinical!
            stage(:size, record!)
          end

          app.post("/:id/size") do
            enter(:size) do |ledger, _record|
              Store::Entries::Sizes.choose(ledger, params["size"].to_s, why: params["why"])
              nil
            end
          end

          app.post("/:id/device") do
            enter(:size) do |ledger, record|
              Store::Entries::Sizes.issue(ledger, serial: params["serial"], lot: params["lot"])
              stage_path(record.visit.id, :fit)
            end
          end
        end
      end
    end
  end
end

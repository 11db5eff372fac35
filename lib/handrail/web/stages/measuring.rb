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
            enter(:size) do |ledger, record|
              Store::Entries::Sizes.choose(ledger, params["size"].to_s, why: params["why"], side: params["side"])
              side = record.sides.size > 1 ? params["side"] : nil
              { "side" => side }.compact
            end
          end

          app.post("/:id/trials") do
            enter(:size) do |ledger, _record|
              Store::Entries::Sizes.trial(ledger, params["size"].to_s, params["outcome"].to_s, side: params["side"])
              { "side" => params["side"] }
            end
          end

          app.post("/:id/device") do
            enter(:size) do |ledger, record|
              Store::Entries::Sizes.issue(ledger, serial: params["serial"], lot: params["lot"], side: params["side"])
              left = record!.then { |fresh| fresh.sides.find { |side| fresh.device(side).nil? } }
              left ? { "side" => left } : stage_path(record.visit.id, :fit)
            end
          end

          # the computed sheets on paper, to scale
          app.get("/:id/computed") do
            clinical!
            record = record!
            side = record.sides.find { |s| s == params["side"] } || record.sides.first
            erb :"visits/computed", layout: :print, locals: { record: record, side: side }
          end

          # every product of the catalogue, held against what was read
          app.get("/:id/fits") do
            clinical!
            record = record!
            side = record.sides.find { |s| s == params["side"] } || record.sides.first
            erb :"visits/fits", locals: { record: record, side: side, found: Store::Catalogue.fits(record, side), all: params["all"] == "1" }
          end
        end
      end
    end
  end
end

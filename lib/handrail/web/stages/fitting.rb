# frozen_string_literal: true

module Handrail
  module Web
    module Stages
      # Steps, checks, changes, marks; and the teach-back.
      module Fitting
        def self.registered(app)
          app.get("/:id/fit") do
            clinical!
            stage(:fit, record!)
          end

          app.post("/:id/steps") do
            enter(:fit) do |ledger, _record|
              Store::Entries::Fit.step(ledger, params["step"])
              nil
            end
          end

          app.post("/:id/checks") do
            enter(params["stage"] == "recheck" ? :recheck : :fit) do |ledger, _record|
              Store::Entries::Fit.check(ledger, params["check"], outcome: params["outcome"], typed: params["value"], note: params["note"],
                                                                 entry_key: params["entry_key"])
              nil
            end
          end

          app.post("/:id/changes") do
            enter(:fit) do |ledger, record|
              Store::Entries::Fit.change(ledger, params["problem"], params["remedy"], note: params["note"])
              change = record!.changes.last
              change.goes_to == "measure" ? stage_path(record.visit.id, :measure) : nil
            end
          end

          app.post("/:id/settings") do
            enter(:fit) do |ledger, record|
              typed = Hash.try_convert(params["settings"]) || {}
              was = record.settings.to_h { |field, row| [field.key, row && row[:typed]] }
              typed.reject { |key, text| text.strip.empty? || text.strip == was[key] }.each { |key, text| Store::Entries::Fit.setting(ledger, record, key, text) }
              { "marks" => "1" }
            end
          end

          app.get("/:id/teach") do
            clinical!
            stage(:teach, record!)
          end

          app.post("/:id/teach") do
            enter(:teach) do |ledger, _record|
              Store::Entries::Teaching.show(ledger, who: params["who"], unaided: params["unaided"] == "yes", shown: Array(params["shown"]),
                                                    mistakes: Array(params["mistakes"]), note: params["note"])
              nil
            end
          end
        end
      end
    end
  end
end

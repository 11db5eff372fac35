# frozen_string_literal: true

module Handrail
  module Web
    class Visits < Base
      # What an instrument sends arrives by itself in the field that is open, at the bench of whoever says that the
      # instrument is there (Store::DeviceBenches): one tape serves every bench, one at a time. The page asks once a
      # second whether something was pressed since it was made, and then reads it as by its button
      # (assets/scripts/arrive.js).
      module Arrivals
        # asking whether something came is no telling of it
        ASKED = Instruments::Presses.new(Module.new { def self.swap(_name, _told) = nil })
        ASKED.freeze
        # where somebody goes on
        STAGES = %w[measure fit recheck].freeze

        def self.registered(app)
          app.get "/:id/arrived" do
            clinical!
            visit!
            kind = instrument!
            unless Store::DeviceBenches.at?(kind, account)
              halt 409, Store::DeviceBenches.whose(kind, clinic).to_s
            end

            status Arrivals.new?(kind, opened_for) ? 200 : 204
            ""
          end

          app.post "/:id/instrument" do
            clinical!
            visit!
            kind = instrument!
            here = params["here"] == "yes"
            Store::DeviceBenches.public_send(here ? :take : :leave, kind, account)
            stage = (STAGES.find { |one| one == params["stage"] } || STAGES.first).to_sym
            go(
              "#{stage_path(id, stage)}?#{query({ "side" => params["side"], "at" => params["at"] }.compact)}"
            )
          end
        end

        # Whether something was pressed within so many seconds.
        def self.new?(kind, within)
          !Instruments.at(kind, presses: ASKED)&.newest(within: within).nil?
        rescue Instruments::Silent
          false
        end
      end
    end
  end
end

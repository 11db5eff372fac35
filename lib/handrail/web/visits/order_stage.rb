# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The order, and what is asked before anything is measured.
      module OrderStage
        # What the order's page prints.
        class Page < StagePage
          STAGE = :order

          # [[label, text], ...] of the order's fields.
          def facts = visit.order_facts

          # What was put right of the order, as rows of entries.
          def corrections =
            visit.fitting_events.select do |entry|
              entry[:command] == Store::Commands::CorrectOrder.key
            end

          # [key, label, typed] of the pressures to ask for, where the family asks for the index.
          def pressures
            return [] unless visit.family.index && writable?

            labels =
              Compression::AnkleBrachial::LABELS.reject do |key, _|
                key.start_with?("ankle") && visit.sides.none? { |side| key.include?(side.to_s) }
              end
            labels.map do |key, label|
              [
                key,
                label,
                typed_in("pressures", key) || kept_pressures[key],
                fault("pressures[#{key}]")
              ]
            end
          end

          def agreed_by = typed("agreed_by") || kept_pressures["agreed_by"]

          # What the pressures say: [[state, sentence], ...].
          def index_findings
            return [] if kept_pressures.empty? && visit.safety.nil?

            read, = visit.method_of("ankle_brachial").read(kept_pressures.except("agreed_by"))
            if read
              read
                .findings(visit.sides.compact)
                .map { |finding| [finding.state, Wording.ankle_index(finding)] }
            else
              []
            end
          end

          # [prompt, ticked] of the stop signs and of what to take care of.
          def stop_prompts = prompts(visit.family.stop_signs, "stops", :stops)
          def care_prompts = prompts(visit.family.care_prompts, "care", :care)

          def identity? = trouble ? typed("identity") == "yes" : visit.identity?
          def note = typed("note") || visit.safety&.fetch(:note)
          def figure = Figures.new(visit, side: side).plain

          private

          def kept_pressures = visit.safety ? visit.safety[:pressures].to_h : {}

          def prompts(all, name, column)
            ticked = trouble ? typed_list(name) : visit.safety&.fetch(column).to_a
            all
              .select { |prompt| prompt.applies?(visit.config) }
              .map { |prompt| [prompt, ticked.include?(prompt.key)] }
          end
        end

        def self.registered(app)
          app.get("/:id/order") do
            clinical!
            show(Page, visit!)
          end

          app.post("/:id/order") do
            enter(Page, Store::Commands::AskCautions) do |taken|
              next nil if taken.visit.stops.any?

              stage_path(id, taken.visit.recheck? ? :recheck : :measure)
            end
          end

          app.post("/:id/stop-actions") { enter(Page, Store::Commands::RecordStopAction) }
          app.post("/:id/protocol") { enter(Page, Store::Commands::TakeProtocol) }

          # for the prescriber, when a stop sign was found
          app.get("/:id/referral") do
            clinical!
            visit = visit!
            erb :"visits/referral",
                layout: :print,
                locals: {
                  page: Page.new(visit, account),
                  visit: visit
                }
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # An order put right, withdrawn, or moved to the record of the right patient: views/visits/amend.erb.
      module AmendPages
        # What the page prints. It decides nothing: what is held back and why, the commands say.
        class Page
          attr_reader :visit, :trouble

          def initialize(visit, params: {}, trouble: nil)
            @visit = visit
            @params = params
            @trouble = trouble
          end

          # The form of the order, filled with what was typed, else with the order as it stands.
          def order
            order = visit.prescription
            stands = {
              "side" => order.side,
              "prescriber" => order.prescriber,
              "prescribed_on" => Quantity::Day.write(order.prescribed_on),
              "product_id" => visit.fitting.product_id.to_s,
              "fields" => order.fields.to_h
            }
            values = sent?("correct") ? @params.to_h : stands
            OrderPage.new(
              visit.clinic,
              visit.patient,
              family: visit.family,
              values: values,
              faults: faults("correct")
            )
          end

          def faults(form) = sent?(form) && trouble.is_a?(Store::Faults) ? trouble.fields : {}
          def typed(form, name) = sent?(form) && @params[name].is_a?(String) ? @params[name] : nil

          # What holds taking it back, in words; nothing where it may be.
          def held = visit.gates.before(:withdraw_order).map { |block| Wording.block(block, visit) }

          # What is not of one field, in words, or nil.
          def fault
            case trouble
            when nil, Store::Faults
              nil
            when Store::Stale
              told = trouble.events.map { |event| "#{visit.name_of(event.by)}: #{event.said}" }
              "#{Wording.t("not_kept.stale")} #{told.join("; ")}"
            when Store::Refused
              trouble.blocks.map { |block| Wording.block(block, visit) }.join(" ")
            else
              trouble.message
            end
          end

          # Corrections that were made: [[when, who, what, why], ...].
          def corrections
            visit
              .rows_of_fitting(:order_corrections)
              .map { |row| [row[:at], visit.name_of(row[:by]), row[:why]] }
          end

          private

          def sent?(form) = !trouble.nil? && @params["form"] == form
        end

        # How its routes answer.
        module Helpers
          def amend(visit, trouble: nil)
            by_pin(visit)
            page = Page.new(visit, params: params, trouble: trouble)
            erb :"visits/amend", locals: { page: page, visit: visit }
          end
        end

        def self.registered(app)
          app.helpers(Helpers)
          app.get("/:id/amend") do
            clinical!
            amend(visit!)
          end
          app.post("/:id/correct-order") do
            kept(Store::Commands::CorrectOrder, :amend) do |visit|
              visit.closed? ? "/visits/#{id}/record" : stage_path(id, visit.gates.present)
            end
          end
          app.post("/:id/withdraw") do
            kept(Store::Commands::WithdrawOrder, :amend) { |visit| "/patients/#{visit.patient.id}" }
          end
          app.post("/:id/move") do
            kept(Store::Commands::MoveOrder, :amend) do |visit|
              moved = Store::Fitting.first(clinic_id: clinic.id, moved_from_id: visit.fitting.id)
              "/patients/#{moved.patient_id}"
            end
          end
        end
      end
    end
  end
end

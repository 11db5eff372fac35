# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Writes a prescription, opens a fitting for it, pins the fitting to what holds today and
      # plans its first visit.
      #
      #   WriteOrder.new("patient" => 17, "family" => "knee_unloader", "product_id" => "4", "side" => "left",
      #                  "prescriber" => "Dr Weatherby", "prescribed_on" => "20 Nov 2026",
      #                  "fields" => { "compartment" => "medial", "indication" => "arthrosis" })
      #
      # Refuses with every field that can not be taken: a product of another family or make, a
      # species it is not for, a prescription dated after today.
      class WriteOrder < ClinicCommand
        input :patient, :id
        input :family, :key, missing: "Choose the device."
        input :product_id, :line, most: 20
        input :side, :key
        input :prescriber, :line, most: 200
        input :prescribed_on, :line, most: 40
        input :fields, :map

        # planned_for - a Time at which the first visit is booked, or nil.
        def initialize(params = {}, planned_for: nil)
          super(params)
          @planned_for = planned_for
        end

        def perform(clinic, account)
          wearer = Patient.where(clinic_id: clinic.id, id: patient).first or
            unacceptable("patient", "There is no such patient.")
          made = Families::Registry.all[family] or unacceptable("family", "Choose the device.")
          product = offered(clinic, made)
          refuse!(faults(clinic, wearer, made, product))
          visit = write(clinic, account, wearer, made, product)
          ["ordered: #{made.name.downcase} for #{wearer.record_number}", { "visit" => visit.id }]
        end

        private

        # the product chosen, or the only one there is
        def offered(clinic, made)
          own = Product.where(clinic_id: clinic.id, family: made.key, offered: true)
          return own.where(id: Inputs.whole(product_id, 1..Inputs::LARGEST_ID)).first if product_id

          own.limit(2).all.then { |all| all.first if all.one? }
        end

        def faults(clinic, wearer, made, product)
          ordered =
            Families::OrderFaults.of(
              made,
              side: chosen_side(made),
              fields: fields,
              options: product&.options&.to_h,
              name: product&.full_name
            )
          {
            "product_id" => ("Choose a product." unless product),
            "side" => nil,
            "patient" =>
              (
                unless made.species.include?(wearer.species)
                  "A #{made.name.downcase} is for #{made.species.join(" or ")}."
                end
              ),
            "prescriber" => ("Write who prescribed it." unless prescriber),
            "prescribed_on" => prescribed_fault(clinic.today),
            **ordered
          }
        end

        def chosen_side(made) = Families::OrderFaults.side(made, side)

        def prescribed_fault(today)
          if Quantity::Day.read(prescribed_on) > today
            "A prescription can not be dated after today."
          end
        rescue Quantity::Day::Unreadable => e
          e.message
        end

        def write(clinic, account, wearer, made, product)
          owner = { clinic_id: clinic.id, patient_id: wearer.id, by: account.id, at: Store.now }
          kept = fields.slice(*made.fields.map(&:key)).reject { |_, text| text.empty? }
          prescription =
            Prescription.create(
              **owner,
              family: made.key,
              side: made.sides.empty? ? nil : chosen_side(made),
              fields: Store.json(kept),
              prescriber: prescriber,
              prescribed_on: Quantity::Day.read(prescribed_on)
            )
          fitting =
            Fitting.create(**owner, prescription_id: prescription.id, product_id: product.id)
          Pin.set(clinic, fitting, by: account.id)
          Visit
            .create(
              clinic_id: clinic.id,
              fitting_id: fitting.id,
              purpose: "first",
              planned_for: @planned_for,
              practice: wearer.practice
            )
            .tap { |visit| Summaries.keep(Visits.load(clinic, [visit]).first) }
        end
      end
    end
  end
end

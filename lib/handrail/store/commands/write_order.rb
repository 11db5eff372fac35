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
        include OrderValues

        input :patient, :id
        input :family, :key, missing: t(:choose_device)
        input :product_id, :line, most: 20
        input :side, :key
        input :prescriber, :line, most: 200
        input :prescribed_on, :line, most: 40
        input :fields, :map
        # why it is ordered beside a device with which it does not go together
        input :despite, :line, most: 300

        # planned_for - a Time at which the first visit is booked, or nil; moved_from - id of the fitting that was
        # ordered in another record by mistake, or nil.
        def initialize(params = {}, planned_for: nil, moved_from: nil)
          super(params)
          @planned_for = planned_for
          @moved_from = moved_from
        end

        # Who and what it is about: [Patient, Family, Product]. Raises Faults with all that can not be taken.
        def look(clinic)
          wearer = Patient.where(clinic_id: clinic.id, id: patient).first or
            unacceptable("patient", t(:no_such_patient))
          made = clinic.device_families[family] or unacceptable("family", t(:choose_device))
          if OwnFamilies.ended?(clinic, made.key)
            unacceptable("family", t(:ended_here_nothing_ordered, made: made.name))
          end
          product = offered(clinic, made)
          refuse!(faults(clinic, wearer, made, product))
          [wearer, made, product]
        end

        def perform(clinic, account)
          wearer, made, product = look(clinic)
          visit = write(clinic, account, wearer, made, product)
          said = t(:ordered_for, device: made.name.downcase, record_number: wearer.record_number)
          said += t(:beside_what_disagrees, despite: despite) if despite && !@beside.empty?
          [said, { "visit" => visit.id }]
        end

        private

        # the product chosen, or the only one there is
        def offered(clinic, made)
          own = Product.where(clinic_id: clinic.id, family: made.key, offered: true)
          return own.where(id: Inputs.whole(product_id, 1..Inputs::LARGEST_ID)).first if product_id

          own.limit(2).all.then { |all| all.first if all.one? }
        end

        def faults(clinic, wearer, made, product)
          {
            "patient" =>
              (
                if wearer.joined_into_id
                  t(:record_joined_order_there)
                elsif wearer.rest == "died"
                  t(
                    :died_said,
                    wearer: wearer.name,
                    rest_on: Quantity::Day.write(wearer.rest_on),
                    rest_said: wearer.rest_said
                  )
                elsif !made.species.include?(wearer.species)
                  t(:a_is_for, device: made.name.downcase, species: made.species.join(" or "))
                end
              ),
            **order_faults(clinic, made, product, chosen_side(made)),
            "despite" => beside(clinic, wearer, made)
          }
        end

        # what the wearer has that does not go with it, in words, until somebody says why both
        def beside(clinic, wearer, made)
          worn = Worn.of(clinic, wearer.id).reject { |one| one.fitting_id == @moved_from }
          @beside =
            Families::Together.against(
              made.key,
              chosen_side(made),
              worn.map { |one| [one.family, one.side] }
            )
          return if @beside.empty? || despite

          @beside
            .map do |(key, side), says|
              "#{worn.find { |one| [one.family, one.side] == [key, side] }.title}: #{says}"
            end
            .join(" ")
            .then { |words| t(:say_why_both_leave, words: words) }
        end

        def chosen_side(made) = Families::OrderFaults.side(made, side)

        def write(clinic, account, wearer, made, product)
          owner = { clinic_id: clinic.id, patient_id: wearer.id, by: account.id, at: Store.now }
          prescription =
            Prescription.create(
              **owner,
              family: made.key,
              side: made.sides.empty? ? nil : chosen_side(made),
              fields: Store.json(ordered_fields(made, product, chosen_side(made))),
              prescriber: prescriber,
              prescribed_on: prescribed_day(clinic.today)
            )
          fitting =
            Fitting.create(
              **owner,
              prescription_id: prescription.id,
              product_id: product.id,
              moved_from_id: @moved_from
            )
          Pin.set(clinic, fitting, by: account.id)
          Visit
            .create(
              clinic_id: clinic.id,
              fitting_id: fitting.id,
              purpose: "first",
              **(
                if @planned_for
                  { planned_for: @planned_for }
                else
                  Newcomers.hand_to(clinic, fitting, by: account.id)
                end
              ),
              practice: wearer.practice,
              resting: !wearer.rest.nil?
            )
            .tap { |visit| Summaries.keep(Visits.load(clinic, [visit]).first) }
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # An order stands in the wrong record: it is taken back there and written, as it was, in the right one, in one
      # act that both records name. Nothing that was read or seen goes with it: nobody knows of whom it is.
      #
      #   MoveOrder.new("record" => "HQ 0417", "why" => "the sister's record was open")
      #
      # Refuses where WithdrawOrder does, a record that there is not, and one of another species. It is not undone: it
      # is moved back.
      class MoveOrder < VisitCommand
        include TakesBack

        input :record, :text, most: 40, missing: t(:write_number_right_record)

        def authorize!(account)
          super
          @account = account
        end

        def decide(visit)
          pass!(visit)
          wearer = wearer_of(visit)
          order =
            WriteOrder.new(
              {
                "patient" => wearer.id,
                "family" => visit.prescription.family,
                "product_id" => visit.fitting.product_id.to_s,
                "side" => visit.prescription.side,
                "prescriber" => visit.prescription.prescriber,
                "prescribed_on" => visit.prescription.prescribed_on.iso8601,
                "fields" => visit.prescription.fields.to_h,
                "despite" => why
              },
              planned_for: visit.planned_for,
              moved_from: visit.fitting.id
            )
          refuse_there(visit, order)
          taken_back(
            visit,
            t(:order_moved_record, record_number: wearer.record_number, why: why),
            "moved",
            effects: [Effects::OrderAnew[order: order, account: @account]]
          )
        end

        private

        # what stands in the way of the order in the other record is said before anything is struck here
        def refuse_there(visit, order)
          order.look(visit.clinic)
        rescue Faults => e
          unacceptable("record", t(:can_not_written, message: e.message))
        end

        def wearer_of(visit)
          found = Patient.numbered(visit.clinic, record) or
            unacceptable("record", t(:no_record, number: record.strip))
          unacceptable("record", t(:record_which_stands)) if found.id == visit.patient.id
          unacceptable("record", t(:what_practised_stays_practice)) if visit.patient.practice
          return found if visit.family.species.include?(found.species)

          unacceptable(
            "record",
            t(
              :a_is_for,
              device: visit.family.name.downcase,
              species: visit.family.species.join(" or ")
            )
          )
        end
      end
    end
  end
end

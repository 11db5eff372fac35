# frozen_string_literal: true

module Handrail
  module Store
    # What a decision has happen beside its own rows. Each is carried out by the Ledger, in the
    # entry's transaction: carry_out(visit, owner), owner being the clinic, visit, version, who and
    # when of the entry. `prepare` comes before the entry is written, and returns what to say of it,
    # or nil.
    module Effects
      # What most effects do before the entry: nothing.
      module Quiet
        def prepare(_visit) = nil
      end

      # Holds a piece of a size for a side, after giving back what was held for it.
      HoldPiece =
        Value.new(:size, :side) do
          def prepare(visit)
            return if visit.patient.practice

            items =
              Store.db[:stock_items].where(
                clinic_id: visit.clinic.id,
                product_id: visit.fitting.product_id
              )
            items.where(
              fitting_id: visit.fitting.id,
              state: "reserved",
              held_side: side.to_s
            ).update(state: "shelf", fitting_id: nil, held_side: "")
            item =
              items
                .where(size: size, state: "shelf", side: ["", side.to_s].uniq)
                .where(Shelf.in_time(visit.clinic))
                .order(Sequel.asc(:use_by, nulls: :last), :received_at, :id)
                .for_update
                .skip_locked
                .first
            if item
              items.where(id: item[:id]).update(
                state: "reserved",
                fitting_id: visit.fitting.id,
                held_side: side.to_s
              )
            end
            visit.source.forget_beside
            return "one held from the shelf" if item

            "none on the shelf, to be ordered" if visit.sizing.stocked?
          end

          def carry_out(_visit, _owner) = nil
        end

      # What is held is worn from now on.
      TakePieces =
        Value.new(:fitting_id) do
          include Quiet

          def carry_out(visit, _owner)
            Store.db[:stock_items].where(
              clinic_id: visit.clinic.id,
              fitting_id: fitting_id,
              state: "reserved"
            ).update(state: "taken")
            visit.source.forget_beside
          end
        end

      # Pieces that were only held stand on the shelf again.
      GiveBack =
        Value.new(:ids) do
          include Quiet

          def carry_out(visit, _owner)
            Store.db[:stock_items].where(
              clinic_id: visit.clinic.id,
              id: ids,
              state: "reserved"
            ).update(state: "shelf", fitting_id: nil, held_side: "")
            visit.source.forget_beside
          end
        end

      # Pieces that were worn before are gone: those of replaced devices.
      RetirePieces =
        Value.new(:ids) do
          include Quiet

          def carry_out(visit, _owner)
            return if ids.empty?

            Store.db[:stock_items].where(clinic_id: visit.clinic.id, id: ids).update(
              state: "gone",
              fitting_id: nil,
              held_side: ""
            )
            visit.source.forget_beside
          end
        end

      # Keeps a photo or a paper once, by its digest; before the entry's own rows, which name it.
      KeepFile =
        Value.new(:sha256, :type, :bytes) do
          def prepare(visit)
            Store.db[:files].insert_conflict.insert(
              clinic_id: visit.clinic.id,
              sha256: sha256,
              content_type: type,
              bytes: Sequel.blob(bytes)
            )
            nil
          end

          def carry_out(_visit, _owner) = nil
        end

      # Plans the next recheck. window - a Followup::Window, or nil at the end of the plan.
      PlanRecheck =
        Value.new(:window) do
          include Quiet

          def carry_out(visit, _owner)
            return unless window

            row =
              Visit.create(
                clinic_id: visit.clinic.id,
                fitting_id: visit.fitting.id,
                purpose: "recheck",
                plan_key: window.key,
                due_from: window.from,
                due_to: window.to,
                practice: visit.patient.practice,
                resting: !visit.patient.rest.nil?
              )
            visit.visits << row
          end
        end

      # Ends the fitting: what is planned of it is called off.
      EndFitting =
        Value.new(:why) do
          include Quiet

          def carry_out(visit, owner)
            visit.fitting.update(ended_at: owner[:at], ended_why: why, ended_as: "ended")
            planned =
              visit.visits.select do |row|
                row.opened_at.nil? && row.closed_at.nil? && row.id != visit.id
              end
            planned.each { |row| row.update(called_off_at: owner[:at]) }
          end
        end

      # Takes an order back, with its visit, whether that has begun or not. as - "withdrawn" or "moved"
      TakeBackOrder =
        Value.new(:why, :as) do
          include Quiet

          def carry_out(visit, owner)
            visit.fitting.update(ended_at: owner[:at], ended_why: why, ended_as: as)
            open = visit.visits.reject { |row| row.closed_at || row.called_off_at }
            open.each { |row| row.update(called_off_at: owner[:at]) }
          end
        end

      # Writes an order down once more, in another record. order - a Commands::WriteOrder; account - who writes
      OrderAnew =
        Value.new(:order, :account) do
          include Quiet

          def carry_out(visit, owner)
            said, result = order.perform(visit.clinic, account)
            Store.db[:entries].insert(
              **owner.slice(:clinic_id, :by, :at),
              command: order.class.key,
              topic: order.class.key,
              said: "#{said}, moved here from record #{visit.patient.record_number}",
              entry_key: SecureRandom.uuid,
              digest: order.digest,
              result: Store.json(result)
            )
          end
        end

      # The fitting is made on another product of its family.
      ChangeProduct =
        Value.new(:product_id) do
          include Quiet

          def carry_out(visit, _owner) = visit.fitting.update(product_id: product_id)
        end

      # Pins the fitting to what holds now, or notes that the offer was left.
      SetPin =
        Value.new(:current, :offer) do
          include Quiet

          def carry_out(visit, owner)
            at = { visit_id: owner[:visit_id], version: owner[:version] }
            visit.source.pinned(
              Store::Pin.set(
                visit.clinic,
                visit.fitting,
                by: owner[:by],
                at: at,
                offer: offer,
                current: current
              )
            )
          end
        end
    end
  end
end

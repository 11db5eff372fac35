# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A piece comes back: to the shelf where it can be given to someone else, else it is gone.
      #
      #   PutBackPiece.new("item" => 12, "where" => "shelf")
      #
      # Refuses while the fitting that holds the piece is running: choose another size there, or end
      # the fitting, first.
      class PutBackPiece < ClinicCommand
        input :item, :id
        input :where, :one_of, of: %w[shelf gone], default: "shelf"

        def perform(clinic, _account)
          piece = Store.db[:stock_items].where(clinic_id: clinic.id, id: item).for_update.first or
            unacceptable("item", t(:no_such_piece))
          unless %w[reserved taken].include?(piece[:state])
            unacceptable("item", t(:piece_shelf_already_gone))
          end
          unacceptable("item", t(:running_fitting_holds_piece)) if held?(piece)

          Store.db[:stock_items].where(id: item).update(
            state: where,
            fitting_id: nil,
            held_side: ""
          )
          [t(:piece_put, where: (where == "shelf" ? t(:back_shelf) : "away")), { "item" => item }]
        end

        private

        # a device that is worn, or a piece that an open visit counts on
        def held?(piece)
          return false if Fitting[piece[:fitting_id]].ended_at

          worn = Store.db[:issued_devices].where(stock_item_id: item, ended_at: nil).any?
          worn || piece[:state] == "reserved"
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Takes an order back that should not have been written, before anything was handed over. It stays in the
      # record, struck, with the reason; its visit is called off, and what was held for it stands on the shelf again.
      #
      #   WithdrawOrder.new("why" => "ordered twice")
      #
      # Refuses once the device was handed over (that is ended), while work is out, and while a stop sign is open. It is
      # not undone: a new order is written.
      class WithdrawOrder < VisitCommand
        include TakesBack

        def decide(visit)
          pass!(visit)
          taken_back(visit, t(:order_withdrawn, why: why), "withdrawn")
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What can not be undone: a cut, a hole, a bend. It is bounded by a figure of this wearer, which has
      # to be there first, and is asked once more. Shared by the commands that do a step or change a thing.
      module ForGood
        def self.included(command)
          command.input :sure, :one_of, of: %w[yes], default: nil
        end

        private

        # one - a Families::Step or Remedy
        def surely!(visit, one, side)
          return unless one.for_good

          lacking = visit.fit.bound_lacking(one, side)
          unacceptable("sure", t(:undone_only_after, lacking: lacking)) if lacking
          return if sure

          unacceptable("sure", t(:undone_never, for_good: visit.fill(one.for_good)))
        end
      end
    end
  end
end

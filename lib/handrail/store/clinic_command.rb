# frozen_string_literal: true

module Handrail
  module Store
    # A command that belongs to no visit. A subclass gives
    #
    #   perform(clinic, account) writes, inside a transaction; returns [what to say, { name => id }]; raises Faults
    #   or Stale
    #   doubled(error)            what to raise where a unique key says that it is there already, or nil
    class ClinicCommand < Command
      def doubled(_error) = nil
    end
  end
end

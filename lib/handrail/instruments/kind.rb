# frozen_string_literal: true

module Handrail
  module Instruments
    # A kind of instrument, as kinds.yml tells of it. A new one is an entry there, and one in the constraints of the
    # rows that say where a value came from (readings, check_results, device_benches, in db/migrations).
    #
    # name; units - what it may send in => how many of its base unit that is; check - the Fitting::Kind of check that it
    # answers, nil where it takes readings; zeroed - whether it can be; stand_in - how its StandIn behaves.
    Kind =
      Value.new(:name, :units, :check, :zeroed, :stand_in) do
        # raw - its entry as it reads
        def self.read(raw) = new(**raw.transform_keys(&:to_sym))
      end
  end
end

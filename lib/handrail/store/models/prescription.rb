# frozen_string_literal: true

module Handrail
  module Store
    # What was ordered, by whom, for which side.
    class Prescription < Sequel.Model(Store.db[:prescriptions])
    end
  end
end

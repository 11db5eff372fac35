# frozen_string_literal: true

module Handrail
  module Store
    # A maker of devices.
    class Maker < Sequel.Model(Store.db[:makers])
    end
  end
end

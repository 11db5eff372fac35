# frozen_string_literal: true

module Handrail
  module Store
    # What was entered, in words, with the key that keeps it once.
    class Entry < Sequel.Model(Store.db[:entries])
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # What happened at a visit, in words.
    class VisitEvent < Sequel::Model(Store.db[:visit_events]); end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # A visit, planned, open or closed. Its version counts what was written at it.
    class Visit < Sequel.Model(Store.db[:visits])
      many_to_one :fitting, class: "Handrail::Store::Fitting"

      def first? = purpose == "first"
      def closed? = !closed_at.nil?
      def open? = !opened_at.nil? && !closed?
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # Who changed which row, when, from what to what. Written by the database.
    class AuditEntry < Sequel.Model(Store.db[:audit_entries])
    end
  end
end

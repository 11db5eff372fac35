# frozen_string_literal: true

require_relative "../support/tables"

# Of a pair one side may end, and the other goes on. here - whether it holds from the visit on at which it is
# written down; else, where that visit was closed already, from the next one on.
Sequel.migration do
  up do
    Tables.at_visit(self, :side_ends, closed: false) do
      String :side, null: false
      String :why, null: false
      TrueClass :here, null: false
      check side: %w[left right]
      constraint(:why_said, Tables.said(:why))
    end
    Tables.append_only(self, :side_ends)
  end

  down { drop_table :side_ends }
end

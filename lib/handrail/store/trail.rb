# frozen_string_literal: true

module Handrail
  module Store
    # The audit trail in words.
    module Trail
      # who - name or "the program"; action - "insert", "update" or "delete"; table; row - id;
      # changes - column => [from, to]
      Line = Value.new(:at, :who, :action, :table, :row, :changes)

      SILENT = %w[id clinic_id visit_id version at].freeze

      # Lines for everything written at a visit, newest first.
      def self.of_visit(visit, limit: 300)
        entries =
          AuditEntry
            .where(visit_id: visit.id, clinic_id: visit.clinic.id)
            .reverse(:id)
            .limit(limit)
            .all
        entries.map { |entry| line(entry, visit) }
      end

      def self.line(entry, record)
        before = entry.before.to_h
        after = entry.after.to_h
        columns = (before.keys | after.keys) - SILENT
        changed =
          columns
            .reject { |column| before[column] == after[column] }
            .to_h { |column| [column, [before[column], after[column]]] }
        Line[
          at: entry.at,
          who: entry.account_id ? record.name_of(entry.account_id) : "the program",
          action: entry.action,
          table: entry.table_name,
          row: entry.row_id,
          changes: changed
        ]
      end
      private_class_method :line
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    # What others changed of a patient's record since a form was made, from the audit trail.
    module PatientChanges
      # Returns Ledger::Tolds, oldest first. seen - the version that the form showed.
      def self.since(patient, seen)
        entries =
          AuditEntry
            .where(clinic_id: patient.clinic_id, table_name: "patients", row_id: patient.id)
            .order(:id)
            .all
        entries
          .select { |entry| entry.after && entry.after["version"].to_i > seen }
          .map { |entry| Ledger::Told[said: said(entry), by: entry.account_id, at: entry.at] }
      end

      def self.said(entry)
        keys =
          Commands::PatientValues::FIELDS.reject do |key|
            entry.before && entry.before[key] == entry.after[key]
          end
        keys.map { |key| "#{key.tr("_", " ")} is now #{entry.after[key] || "empty"}" }.join(", ")
      end
      private_class_method :said
    end
  end
end

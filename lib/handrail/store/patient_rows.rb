# frozen_string_literal: true

module Handrail
  module Store
    # What a wearer's page shows beside the visits of their fittings, read at once.
    #
    #   rows = PatientRows.new(clinic, patient)
    #   rows.fitting_ids  # => [31, 12], the newest first
    #   rows.step_of(48)  # => Handrail::Fitting::NextStep as it is kept of a visit, or nil
    class PatientRows
      def initialize(clinic, patient)
        @clinic = clinic
        @patient = patient
      end

      def fitting_ids = rows["fitting"].map { |row| row[:id] }

      # Records that were joined into this one: rows of :id and :record_number.
      def joined_here = rows["joined"]

      # The open first appointment without an order, or nil.
      def newcomer = rows["newcomer"].first

      # The number of the record from which an order was moved here, or nil. id - of the fitting there
      def moved_from(id) = numbered("moved_from", id)

      # The number of the record to which an order of this one was moved, or nil. id - of the fitting here
      def moved_to(id) = numbered("moved_to", id)

      # Rows of what is due of a fitting, the first due first.
      def dues(fitting_id) = rows["due"].select { |row| row[:fitting_id] == fitting_id }

      # What a visit needs next, as it is kept beside it.
      def step_of(visit_id)
        @steps ||= rows["summary"].to_h { |row| [row[:visit_id], kept(row)] }
        @steps[visit_id]
      end

      # Readings from before, see Earlier.by_site.
      def earlier = @earlier ||= Earlier.by_site(rows["earlier"])

      # What was sent to other clinics of the group, the newest first: rows of :id, :to_name, :consent_by,
      # :consent_on, :at, :delivered_at, :taken_at and :taken_as.
      def sent = rows["sent"]

      # Records that were brought from other clinics, the newest first, struck ones last: rows of :id, :clinic, :at,
      # :ended_at, and how many :devices and :files each holds.
      def brought = rows["brought"]

      private

      def numbered(name, id) = id && rows[name].find { |row| row[:id] == id }&.fetch(:record_number)

      def kept(row)
        Handrail::Fitting::NextStep[
          **%i[stage state finding].to_h { |name| [name, row[name].to_sym] },
          figures: row[:figures].to_h.transform_keys(&:to_sym),
          done: row[:done].to_a.map(&:to_sym)
        ]
      end

      def rows
        @rows ||=
          Gathered.read(:patient_rows, clinic: @clinic.id, patient: @patient.id) do
            SETS.transform_values { |sql| Store.db[sql, { clinic: :$clinic, patient: :$patient }] }
          end
      end

      SETS = {
        "fitting" => <<~SQL,
          SELECT id FROM fittings WHERE clinic_id = :clinic AND patient_id = :patient ORDER BY id DESC
        SQL
        "joined" => <<~SQL,
          SELECT id, record_number FROM patients WHERE clinic_id = :clinic AND joined_into_id = :patient ORDER BY id
        SQL
        "newcomer" => <<~SQL,
          SELECT what, planned_for, arrived_at FROM first_appointments
          WHERE clinic_id = :clinic AND patient_id = :patient AND ended_at IS NULL
        SQL
        "moved_from" => <<~SQL,
          SELECT there.id, p.record_number FROM fittings own JOIN fittings there ON there.id = own.moved_from_id
          JOIN patients p ON p.id = there.patient_id WHERE own.clinic_id = :clinic AND own.patient_id = :patient
        SQL
        "moved_to" => <<~SQL,
          SELECT own.id, p.record_number FROM fittings own JOIN fittings there ON there.moved_from_id = own.id
          JOIN patients p ON p.id = there.patient_id WHERE own.clinic_id = :clinic AND own.patient_id = :patient
        SQL
        "due" => <<~SQL,
          SELECT d.* FROM fitting_dues d JOIN fittings f ON f.id = d.fitting_id
          WHERE f.clinic_id = :clinic AND f.patient_id = :patient ORDER BY d.due_on
        SQL
        "summary" => <<~SQL,
          SELECT * FROM visit_summaries WHERE clinic_id = :clinic AND patient_id = :patient
        SQL
        "earlier" => <<~SQL,
          SELECT * FROM earlier_readings WHERE clinic_id = :clinic AND patient_id = :patient
          ORDER BY site, side, read_on DESC, id LIMIT 500
        SQL
        "sent" => <<~SQL,
          SELECT id, to_name, consent_by, consent_on, at, delivered_at, taken_at, taken_as FROM sent_records
          WHERE clinic_id = :clinic AND patient_id = :patient ORDER BY id DESC
        SQL
        "brought" => <<~SQL
          SELECT id, clinic, at, ended_at, jsonb_array_length(told->'fittings') AS devices,
            jsonb_array_length(files) AS files
          FROM brought_records WHERE clinic_id = :clinic AND patient_id = :patient
          ORDER BY ended_at IS NULL DESC, id DESC
        SQL
      }.freeze
      private_constant :SETS
    end
  end
end

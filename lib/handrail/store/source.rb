# frozen_string_literal: true

require "forwardable"

module Handrail
  module Store
    # One fitting as the core's Visit asks for it, see Handrail::Visit. What an entry writes goes
    # through here, so that the visit that was loaded stays the visit as it stands.
    class Source
      extend Forwardable

      attr_reader :fitting

      def_delegators :@batch, :clinic, :rows, :name_of, :forget_beside, :hand_over_kept, :remember

      def initialize(batch, fitting)
        @batch = batch
        @fitting = fitting
      end

      # The clinic as it was when a visit was closed.
      def clinic_at(row)
        row.clinic_state_id ? ClinicStates.of(clinic, row.clinic_state_id) : clinic
      end

      def patient = @patient ||= @batch.patient(fitting.patient_id)
      def prescription = @batch.prescription(fitting.prescription_id)
      def visits = @batch.visits(fitting.id)
      def stock = @batch.stock(fitting.id)
      def shelf = @batch.beside.shelf(fitting.product_id)
      def repeatability(account_id, site) = @batch.beside.repeatability(account_id, site)

      # The product as it is now, see Beside.
      def product_now = @batch.beside.product(fitting.product_id)

      # Who may take readings here now: rows of :id and :name, by name.
      def readers = @batch.beside.people.select { |row| row[:reads] }
      def stocked? = shelf.any?

      # The pin that a visit reads: the newest that was set at it or before it.
      def pin(visit_id)
        number = @batch.number(visit_id)
        @batch
          .pins(fitting.id)
          .reverse
          .find { |pin| pin.visit_id.nil? || @batch.number(pin.visit_id) <= number }
      end

      # The number of the entry that set it: one that left an offer changed nothing. 0 for the order's.
      def pin_taken_at(visit_id)
        number = @batch.number(visit_id)
        taken = @batch.pins(fitting.id).select { |pin| pin.offer.nil? && pin.visit_id }
        taken.select { |pin| @batch.number(pin.visit_id) <= number }.map(&:version).max || 0
      end

      # Cautions of the wearer that stand whatever is ordered, as Hashes of Strings.
      def standing = patient.standing

      # Open stops of the wearer's other fittings, as Hashes of Strings.
      def stops_elsewhere = patient.stops_open.reject { |row| row["fitting_id"] == fitting.id }

      # Where a serial number of this product is worn already, other than on this side of this fitting:
      # a row with :fitting_id, :side, :record_number; or nil.
      def worn_elsewhere(serial, side)
        own = { fitting_id: fitting.id, side: side }
        Store.db[:issued_devices]
          .where(Sequel[:issued_devices][:clinic_id] => clinic.id)
          .where(product_id: fitting.product_id, serial: serial, ended_at: nil)
          .exclude(own.transform_keys { |name| Sequel[:issued_devices][name] })
          .from_self(alias: :d)
          .join(:fittings, { id: :fitting_id }, table_alias: :f)
          .join(:patients, { id: :patient_id }, table_alias: :p)
          .select(Sequel[:d][:fitting_id], Sequel[:d][:side], :record_number)
          .first
      end

      # Readings of today for the wearer's other devices, see Beside.
      def readings_beside = @readings_beside ||= @batch.beside.readings(patient.id)

      # Identity and cautions as they were asked last within these two hours for another device of the wearer: a row
      # with :family and :title of that device; nil where they were not, or something stopped there.
      def asked_beside
        return @asked_beside if defined?(@asked_beside)

        row = Store.db[ASKED, clinic.id, patient.id, fitting.id, Store.now - ONE_SITTING].first
        @asked_beside = row && VisitRows.plain(row)
      end

      # The wearer's other visits that have begun today and are not closed, as rows of visit_id, stage and title.
      def here_beside =
        Store.db[
          HERE,
          {
            clinic: clinic.id,
            patient: patient.id,
            own: fitting.id,
            day: clinic.midnight(clinic.today),
            end: clinic.midnight(clinic.today + 1)
          }
        ].all

      # what is asked at one sitting is asked once, in seconds
      ONE_SITTING = 2 * 3600
      ASKED = <<~SQL
        SELECT q.id, q.at, q.by, q.identity, q.stops, q.care, q.note, q.rests_on, s.title, o.family
        FROM fittings f JOIN visits v ON v.fitting_id = f.id JOIN safety_questions q ON q.visit_id = v.id
        JOIN visit_summaries s ON s.visit_id = v.id JOIN prescriptions o ON o.id = f.prescription_id
        WHERE f.clinic_id = ? AND f.patient_id = ? AND f.id <> ? AND q.at >= ?
        ORDER BY q.at DESC, q.id DESC LIMIT 1
      SQL
      HERE = <<~SQL
        SELECT v.id AS visit_id, s.title, s.stage
        FROM fittings f JOIN visits v ON v.fitting_id = f.id JOIN visit_summaries s ON s.visit_id = v.id
        WHERE f.clinic_id = :clinic AND f.patient_id = :patient AND f.id <> :own AND v.closed_at IS NULL AND f.ended_at IS NULL
          AND v.called_off_at IS NULL AND (v.opened_at >= :day OR (v.planned_for >= :day AND v.planned_for < :end)
            OR (v.purpose = 'first' AND v.opened_at IS NULL AND v.planned_for IS NULL))
        ORDER BY v.id LIMIT 4
      SQL
      private_constant :ONE_SITTING, :ASKED, :HERE

      # What ended a problem of a family at this clinic: remedy key => [ended, tries].
      def what_worked(family, problem) = Projectors::RemedyTries.of(clinic, family, problem)

      # What became of this product's sizes at this clinic, as Learning::ChartTruth.
      def chart_truth(names) =
        @chart_truth ||= Learned.new(clinic).truth_of(fitting.product_id, names)

      # What a clinic has booked, as a Planning.
      def planning = @planning ||= Planning.new(clinic)

      # Adds a row to a table of a visit. owner - its clinic, visit, version, who and when. Returns
      # the row.
      def insert(table, owner, **values)
        return Store.insert(table, **owner, **values) unless @batch.written.key?(table)

        row, stamp = VisitRows.insert(table, **owner, **values)
        @batch.add(table, row, stamp)
        row
      end

      # Changes a row of a table of a visit.
      def update(table, id, **values)
        changed = VisitRows.update(clinic.id, table, id, **values) or return
        @batch
          .written
          .fetch(table)
          .each_value { |rows| rows.map! { |row| row[:id] == id ? changed : row } }
      end

      # A pin that an entry set.
      def pinned(pin) = @batch.pins(fitting.id) << pin
    end
  end
end

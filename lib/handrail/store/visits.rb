# frozen_string_literal: true

module Handrail
  module Store
    # Loads visits: rows from the database, as the core's Visit. However many visits there are, the
    # number of queries stays the same.
    module Visits
      # A device that was handed over. on - a Date; side - "left", "right", "both", or nil where it has none
      Given = Value.new(:on, :side)

      class << self
        # Devices of the same family that were handed over to the same wearer in the last so many years, in other
        # fittings: Givens, newest first. Of a pair of which one was given out anew, that one.
        def like_devices(visit, years)
          Store.db[
            LIKE,
            visit.clinic.id,
            visit.patient.id,
            visit.family.key,
            visit.fitting.id,
            visit.clinic.today << (12 * years)
          ].map { |row| Given[on: visit.clinic.today(row[:at]), side: row[:side]] }
        end

        LIKE = <<~SQL
          SELECT h.at, (
              SELECT CASE count(DISTINCT d.side) WHEN 2 THEN 'both' ELSE min(d.side) END
              FROM issued_devices d WHERE d.visit_id = h.visit_id) AS side
          FROM hand_overs h JOIN visits v ON v.id = h.visit_id JOIN fittings f ON f.id = v.fitting_id
          JOIN prescriptions o ON o.id = f.prescription_id
          WHERE h.clinic_id = ? AND f.patient_id = ? AND o.family = ? AND f.id <> ? AND h.at > ? ORDER BY h.at DESC
        SQL
        private_constant :LIKE

        # The Handrail::Visit, or nil when the clinic has none of that id.
        def find(clinic, id)
          number = Inputs.whole(id, 1..Inputs::LARGEST_ID) or return
          batch = Batch.new(clinic, { of_visit: number })
          row = batch.row(number) or return
          Handrail::Visit.new(row, batch.source(row.fitting_id))
        end

        # A visit of a fitting, as it stands, or nil: for an entry.
        def to_write(clinic, fitting_id, id)
          batch = Batch.new(clinic, [fitting_id], to_write: true)
          row = batch.row(id) or return
          Handrail::Visit.new(row, batch.source(fitting_id))
        end

        # Handrail::Visits for visit rows of one clinic, in their order.
        def load(clinic, rows)
          return [] if rows.empty?

          batch = Batch.new(clinic, rows.map(&:fitting_id).uniq)
          rows.map { |row| Handrail::Visit.new(batch.own(row), batch.source(row.fitting_id)) }
        end

        # All visits of some fittings: fitting id => Handrail::Visits, oldest first.
        def of_fittings(clinic, fitting_ids)
          return {} if fitting_ids.empty?

          batch = Batch.new(clinic, fitting_ids)
          fitting_ids.to_h { |id| [id, all(batch.source(id))] }
        end

        # All visits of a Source, oldest first.
        def all(source) = source.visits.map { |row| Handrail::Visit.new(row, source) }
      end
    end
  end
end

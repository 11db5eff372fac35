# frozen_string_literal: true

module Handrail
  module Store
    # Records that wearers brought from other clinics, as they came.
    module Brought
      class << self
        # Those of a wearer, the newest first, struck ones last: rows with plain values.
        def of(clinic, patient)
          rows = Store.db[:brought_records].where(clinic_id: clinic.id, patient_id: patient.id)
          rows
            .order(Sequel.desc(Sequel.lit("ended_at IS NULL")), Sequel.desc(:id))
            .map { |row| VisitRows.plain(row) }
        end

        # One of them with its file, or nil. sha256 - of one of its files
        def file(clinic, row, sha256)
          file = row[:files].find { |one| one["sha256"] == sha256 } or return
          bytes = Store.db[:files].where(clinic_id: clinic.id, sha256: sha256).get(:bytes)
          bytes && [file, bytes]
        end
      end
    end
  end
end

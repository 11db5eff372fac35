# frozen_string_literal: true

require "digest"

module Handrail
  module Store
    # What a clinic had settled when a visit was closed: its zone and tape, its name and what it
    # prints. A closed visit goes on saying what it said then. Each state is kept once, by its digest.
    module ClinicStates
      FIELDS = %i[name place address phone time_zone tape choices].freeze
      # as many as the closed visits of a few clinics have between them
      KEPT = Memory.new(200)
      private_constant :KEPT

      class << self
        # The id of the row for the clinic as it is now, which is made where it is new.
        def keep(clinic)
          values = FIELDS.to_h { |field| [field, clinic[field]] }
          values[:choices] = values[:choices].to_h.sort.to_h
          text = JSON.generate(values)
          digest = Digest::SHA256.hexdigest(text)
          own = Store.db[:clinic_states].where(clinic_id: clinic.id, digest: digest)
          own.get(:id) || insert(clinic, digest, values) || own.get(:id)
        end

        # The clinic as it was, as a Clinic; what is not kept is as it is now.
        def of(clinic, id)
          kept =
            KEPT.remember([clinic.id, id]) do
              VisitRows.plain(
                Store.db[:clinic_states].where(clinic_id: clinic.id, id: id).get(:values)
              ).transform_keys(&:to_sym)
            end
          Clinic.call({ **clinic.values, **kept })
        end

        private

        # another connection may keep the same one just now
        def insert(clinic, digest, values)
          Store.db[:clinic_states].insert_conflict(target: %i[clinic_id digest]).insert(
            clinic_id: clinic.id,
            digest: digest,
            values: Store.json(values)
          )
        end
      end
    end
  end
end

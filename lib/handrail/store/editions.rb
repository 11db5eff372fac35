# frozen_string_literal: true

module Handrail
  module Store
    # The editions of the trade's knowledge that a clinic's fittings were pinned to (see Edition):
    # each is kept once, by its digest.
    module Editions
      class << self
        # The id of an edition's row, which is made where it is new.
        def keep(clinic, edition)
          own = Store.db[:editions].where(clinic_id: clinic.id, digest: edition.digest)
          own.get(:id) || insert(clinic, edition) || own.get(:id)
        end

        # The Edition of a digest.
        def of(clinic_id, digest)
          Edition.kept(digest) do
            Store.db[:editions].where(clinic_id: clinic_id, digest: digest).get(:text)
          end
        end

        private

        # another connection may keep the same one just now
        def insert(clinic, edition)
          Store.db[:editions].insert_conflict(target: %i[clinic_id digest]).insert(
            clinic_id: clinic.id,
            digest: edition.digest,
            text: edition.text
          )
        end
      end
    end
  end
end

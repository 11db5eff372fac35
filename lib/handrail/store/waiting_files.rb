# frozen_string_literal: true

module Handrail
  module Store
    # Files that somebody chose and looked at, until they say yes to them: each the person's own, for a day (Retention).
    #
    #   id = WaitingFiles.put(account, "ines.zip", bytes)
    #   WaitingFiles.bytes(account, id) # => the bytes, or nil where there is none of theirs any more
    #
    # They are no record: nothing is audited, and they do not leave with a clinic.
    module WaitingFiles
      # how many of one person's
      MOST = 5

      class << self
        def put(account, name, bytes)
          own = Store.db[:waiting_files].where(clinic_id: account.clinic_id, by: account.id)
          own.exclude(id: own.reverse(:id).limit(MOST - 1).select(:id)).delete
          Retention.sweep
          Store.db[:waiting_files].insert(
            clinic_id: account.clinic_id,
            by: account.id,
            at: Store.now,
            name: name[0, 120],
            bytes: Sequel.blob(bytes)
          )
        end

        def bytes(account, id)
          id = Inputs.whole(id, 1..9_000_000_000_000) or return
          Retention
            .standing(:waiting_files)
            .where(clinic_id: account.clinic_id, by: account.id, id: id)
            .get(:bytes)
        end
      end
    end
  end
end

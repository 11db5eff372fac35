# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Finds the entry that brought something in. Entries never change: what was brought in is held by
      # its own rows, see the commands.
      module BroughtIn
        private

        # command - the class that brought it in, or several; what - the name under which its result has the ids
        def brought(clinic, command, what)
          row =
            Store.db[:entries].where(
              clinic_id: clinic.id,
              id: entry,
              command: Array(command).map(&:key)
            ).first or unacceptable("entry", t(:no_such_entry))
          row[:result][what].to_a
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Adds a note, also after the visit was closed. Notes never stand in one another's way.
      class AddNote < VisitCommand
        input :text, :text, most: 5000, missing: t(:write_note_first)

        def topic = "note"
        def watch = []
        def correction? = true
        def opens? = false

        def decide(_visit) =
          Decision.insert(t(:note, text: text[0, 80]), visit_notes: { text: text })
      end
    end
  end
end

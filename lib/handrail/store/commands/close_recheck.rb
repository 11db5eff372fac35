# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Closes a recheck and plans the next.
      #
      # Refuses with every reason: an open stop sign, cautions not asked, a girth that the size
      # hangs on and was not read, a question about a reading, a failed or missing check, a question
      # of the recheck.
      class CloseRecheck < VisitCommand
        def topic = "close"
        def watch = [//]

        def decide(visit)
          pass!(visit)
          window = visit.fitting.ended_at ? nil : visit.wear.next_recheck(today: visit.clinic.today)
          Decision.closing(t(:recheck_closed), visit, window)
        end
      end
    end
  end
end

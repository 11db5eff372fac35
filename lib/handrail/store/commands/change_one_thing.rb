# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Changes one thing for a problem; only the checks that the remedy names open again.
      #
      #   ChangeOneThing.new("problem" => "slides_down", "remedy" => "reseat_calf_strap", "note" => "moved up 20 mm")
      class ChangeOneThing < VisitCommand
        input :problem, :key, missing: "Name what is wrong first."
        input :remedy, :key, missing: "Choose what to change."
        input :side, :key
        input :note, :line, most: 500

        def topic = "change:#{side}"

        def decide(visit)
          pass!(visit, visit.recheck? ? :measure : :fit)
          own = side_of(visit, side)
          named = visit.family.problems_for(visit.config).find { |one| one.key == problem } or
            unacceptable("problem", "Name what is wrong first.")
          chosen = named.remedies.find { |one| one.key == remedy && one.applies?(visit.config) } or
            unacceptable("remedy", "Choose what to change.")
          Decision.insert(with_side(visit, own, "#{visit.fill(named.title)} → " \
                                                "#{visit.fill(chosen.title)}#{": #{note}" if note}"),
                          result: { "goes_to" => chosen.goes_to }.compact,
                          changes: { side: own, problem: problem, remedy: remedy, title: visit.fill(chosen.title),
                                     opens: Store.json(chosen.opens), goes_to: chosen.goes_to, note: note })
        end
      end
    end
  end
end

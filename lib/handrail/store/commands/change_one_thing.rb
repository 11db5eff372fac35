# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Changes one thing for a problem; only the checks that the remedy names open again.
      #
      #   ChangeOneThing.new("problem" => "slides_down", "remedy" => "reseat_calf_strap",
      #                      "before" => "60 mm", "after" => "80 mm", "felt" => "slips")
      #
      # before, after - what was changed, in the fitter's own figures; felt, x, y - how the problem
      # was named on the figure, and where, in the figure's own measure. Refuses a remedy that is at
      # its limit.
      class ChangeOneThing < VisitCommand
        include ForGood

        input :problem, :key, missing: t(:name_what_wrong_first)
        input :remedy, :key, missing: t(:choose_what_change)
        input :side, :key
        input :note, :line, most: 500
        input :before, :line, most: 80
        input :after, :line, most: 80
        input :felt, :one_of, of: Families::FELT, default: nil
        input :x, :line, most: 12
        input :y, :line, most: 12

        def topic = "change:#{side}"

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          named = named(visit)
          chosen = chosen(visit, named, own)
          surely!(visit, chosen, own)
          Decision.insert(
            with_side(visit, own, said(visit, named, chosen)),
            result: {
              "goes_to" => chosen.goes_to,
              "away" => (chosen.doer if chosen.away?)
            }.compact,
            changes: {
              side: own,
              problem: problem,
              remedy: remedy,
              title: visit.fill(chosen.title),
              opens: Store.json(chosen.opens),
              goes_to: chosen.goes_to,
              doer: chosen.doer,
              note: note,
              before: before,
              after: after,
              felt: felt,
              spot: spot && Store.json(spot)
            }
          )
        end

        private

        def named(visit)
          visit.family.problems_for(visit.config).find { |one| one.key == problem } ||
            unacceptable("problem", t(:name_what_wrong_first))
        end

        def chosen(visit, named, own)
          found = named.remedies.find { |one| one.key == remedy && one.applies?(visit.config) }
          unacceptable("remedy", t(:choose_what_change)) unless found
          return found unless visit.remedies.reached(found, own)

          unacceptable("remedy", t(:remedy_at_its_limit))
        end

        def said(visit, named, chosen)
          more = [Wording.from_to(before, after), note].compact.join(", ")
          "#{visit.fill(named.title)} → #{visit.fill(chosen.title)}#{": #{more}" unless more.empty?}"
        end

        # where it was named on the figure: numbers within any figure's frame, else nothing
        def spot
          return unless x && y

          point = [x, y].map { |text| Float(text, exception: false) }
          return if point.any?(&:nil?) || point.any? { |n| n.abs > 5000 }

          { "x" => point.first.round(1), "y" => point.last.round(1) }
        end
      end
    end
  end
end

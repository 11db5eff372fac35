# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Show me: the wearer, or a named carer, takes it off and puts it on; on each side that is
      # ordered.
      #
      #   RecordTeachBack.new("who" => "Wilma", "unaided" => "yes", "shown" => ["takes_off", "puts_on"], "mistakes"
      #   => [])
      #
      # Refuses while a check has failed. What counts is the last one after the last change.
      class RecordTeachBack < VisitCommand
        input :who,
              :text,
              most: 200,
              missing: "Write who put it on: the wearer, or the carer's name."
        input :unaided, :flag
        input :shown, :keys
        input :mistakes, :keys
        input :side, :key
        input :note, :line, most: 500

        def topic = "teach:#{side}"

        def decide(visit)
          pass!(visit, visit.recheck? ? :measure : :teach)
          sides = side ? [side_of(visit, side)] : visit.sides
          row = {
            who: who,
            unaided: unaided,
            note: note,
            shown: Store.json(visit.tasks.map(&:key) & shown),
            mistakes: Store.json(left(visit))
          }
          Decision.of(said(visit), rows: sides.map { |own| [:teach_backs, { **row, side: own }] })
        end

        private

        def left(visit) = visit.family.mistakes_for(visit.config).map(&:key) & mistakes

        def said(visit)
          count = left(visit).size
          "#{who} put it on #{unaided ? "unaided" : "with help"}, #{(visit.tasks.map(&:key) & shown).size} of " \
            "#{visit.tasks.size} tasks#{", #{count} #{count == 1 ? "mistake" : "mistakes"} left" if count.positive?}"
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Show me: the wearer, or a named carer, takes it off and puts it on; on each side that is
      # ordered. Each task is said by how it went: unaided, after a word, with hands, not.
      #
      #   RecordTeachBack.new("who" => "Wilma", "levels" => { "takes_off" => "unaided", "puts_on" => "word" },
      #                       "mistakes" => [], "tries" => "2")
      #
      # `unaided` and `shown` say the same of all tasks at once. Refuses while a check has failed. What
      # counts is the last one after the last change.
      class RecordTeachBack < VisitCommand
        input :who, :text, most: 200, missing: t(:write_who_put_wearer)
        input :unaided, :flag
        input :shown, :keys
        input :levels, :map
        input :tries, :line, most: 4
        input :mistakes, :keys
        input :side, :key
        input :note, :line, most: 500

        def topic = "teach:#{side}"
        def rests_on(visit) = [:teach_backs, { side: side && side_of(visit, side) }]

        def decide(visit)
          pass!(visit)
          sides = side ? [side_of(visit, side)] : visit.sides
          row = {
            who: who,
            note: note,
            mistakes: Store.json(left(visit)),
            tries: count,
            **went(visit)
          }
          Decision.of(said(visit), rows: sides.map { |own| [:teach_backs, { **row, side: own }] })
        end

        private

        # what the columns hold, from levels or from the two that say it of all
        def went(visit)
          keys = visit.tasks.map(&:key)
          return { unaided: unaided, shown: Store.json(keys & shown) } if levels.empty?

          known = levels.slice(*keys)
          strange = known.find { |_, level| !Handrail::Fitting::LEVELS.include?(level) }
          unacceptable("levels", t(:say_each_task_how)) if strange
          {
            unaided: keys.all? { |key| known[key] == "unaided" },
            shown: Store.json(known.reject { |_, level| level == "not" }.keys),
            levels: Store.json(known)
          }
        end

        def count
          return unless tries

          Inputs.whole(tries, 1..99) || unacceptable("tries", t(:count_tries_whole_number))
        end

        def left(visit) = visit.family.mistakes_for(visit.config).map(&:key) & mistakes

        def said(visit)
          alone = went(visit)[:unaided] ? "unaided" : t(:with_help)
          seen =
            (
              if levels.empty?
                (visit.tasks.map(&:key) & shown).size
              else
                levels.count { |_, level| level == "unaided" }
              end
            )
          more = left(visit).size
          t(
            :put_tasks,
            who: who,
            alone: alone,
            seen: seen,
            tasks: visit.tasks.size,
            left: (t(:mistakes_left, count: more) if more.positive?)
          )
        end
      end
    end
  end
end

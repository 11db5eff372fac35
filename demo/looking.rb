# frozen_string_literal: true

module Handrail
  class HeronQuay
    # What is seen at checks, in a story. Part of Telling.
    module Looking
      # what was seen at a check: the value typed, or yes, or the outcome given
      def check(key, typed = nil, place: nil, side: nil, outcome: "good", way: nil)
        run(
          :RecordCheck,
          check: key,
          value: typed,
          way: way,
          outcome: typed ? nil : outcome,
          place: place,
          side: side
        )
      end

      def looked_at(except: [])
        visit_now.sides.each do |side|
          waiting =
            visit_now
              .fit
              .checks(side)
              .reject { |check, _| check.answered_by || except.include?(check.key) }
          waiting
            .sort_by
            .with_index { |(check, _), i| [check.final ? 1 : 0, i] }
            .each do |check, place|
              check(check.key, good_value(check, place), place: place, side: side)
            end
        end
      end

      # a value within the criterion
      def good_value(check, place)
        return unless check.measured?

        case check.kind
        when "pressure"
          (48 - (2 * place[/\d+/].to_i)).to_s
        else
          limits = check.criterion.limits.values
          return check.criterion.print(limits.sum / 2) if limits.size == 2

          check.kind == "length" ? "3 mm" : limits.first.to_i.to_s
        end
      end

      # what a change has opened, with what was seen there where that is told
      def looked_again(**seen)
        list = visit_now.fit.checklist(visit_now.sides.first)
        open =
          (list.open_again + list.not_done).sort_by.with_index do |item, i|
            [item.check.final ? 1 : 0, i]
          end
        open.each do |item|
          value = seen.fetch(item.check.key.to_sym) { good_value(item.check, item.place) }
          check(item.check.key, value, place: item.place)
        end
      end
    end
  end
end

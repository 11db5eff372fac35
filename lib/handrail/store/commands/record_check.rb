# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Records what was seen at a check, on one side and at one place. A measured one is judged by
      # its criterion.
      #
      #   RecordCheck.new("check" => "slip", "value" => "1/4 in", "side" => "left")
      #   RecordCheck.new("check" => "no_pinch", "outcome" => "bad")
      #   RecordCheck.new("check" => "height", "value" => "12 mm", "way" => "too_low")
      #
      # What can not be looked at today is said with its reason, and stays open:
      #
      #   RecordCheck.new("check" => "slip", "outcome" => "not_possible", "note" => "can not walk yet")
      #
      # What failed and was not changed is good only with a note: what was done, or misread.
      #
      # Refuses before the size and the device are there, and under a stop sign.
      class RecordCheck < VisitCommand
        include CheckValues
        include FromDevice

        input :check, :key, missing: t(:name_check)
        input :place, :key
        input :side, :key
        input :outcome, :one_of, of: %w[good bad not_possible], default: nil
        input :value, :line, most: 40
        input :way, :key
        input :note, :line, most: 500

        def topic = "check:#{side}:#{check}:#{place}"
        def watch = [/\A#{Regexp.escape(topic)}\z/, /\Achange:/]
        def rests_on(visit)
          [:check_results, { side: side_of(visit, side), place: place.to_s, subject: check }]
        end

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          found, =
            visit.fit.checks(own).find { |one, where| one.key == check && where == place.to_s } ||
              all(visit, own)
          unacceptable("check", t(:no_such_check_here)) unless found
          unacceptable("check", t(:follows_from_readings)) if found.answered_by

          own_words(visit, own)
          values =
            outcome == "not_possible" ? not_possible(found) : seen(found, outcome, value, way)
          Decision.insert(
            with_side(visit, own, said(visit, found, values)),
            check_results: {
              **values,
              **sent(visit, :check_results),
              side: own,
              place: place.to_s,
              check_key: check,
              note: note
            }
          )
        end

        private

        # a failure ends by an act of its own
        def own_words(visit, own)
          item = visit.fit.checklist(own)[[check, place.to_s].reject(&:empty?).join(":")]
          return unless outcome == "good" && note.to_s.empty? && item&.taken_back?

          unacceptable("note", t(:failed_nothing_changed_since))
        end

        def not_possible(found)
          unacceptable("note", t(:say_why_not_possible)) unless note
          { kind: found.kind, outcome: outcome }
        end

        # a check that is not on a recheck's short list may be looked at all the same
        def all(visit, own)
          found = visit.family.checks(visit.config).find { |one| one.key == check } or return
          places = found.each_strap ? visit.sizing.straps(own).map(&:key) : [""]
          [found] if places.include?(place.to_s)
        end

        def said(visit, found, values)
          at = visit.sizing.straps(side_of(visit, side)).find { |strap| strap.key == place }&.label
          "#{[visit.fill(found.title), at].compact.join(", ")}: #{check_said(found, values)}"
        end
      end
    end
  end
end

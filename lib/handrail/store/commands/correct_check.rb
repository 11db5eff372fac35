# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Corrects a check of a closed visit: a new row of the same check, side and place that names
      # the old one.
      #
      #   CorrectCheck.new("corrects" => "40", "outcome" => "bad", "why" => "ticked the wrong line")
      #
      # Refuses on an open visit (look again there) and a row that was corrected already.
      class CorrectCheck < VisitCommand
        include CheckValues

        input :result, :id, from: "corrects"
        input :outcome, :one_of, of: %w[good bad], default: nil
        input :value, :line, most: 40
        input :way, :key
        input :why, :text, most: 300, missing: t(:say_why_corrected)

        def topic = "check-row:#{result}"
        def correction? = true
        def opens? = false

        def decide(visit)
          unacceptable("visit", t(:visit_still_open_look)) unless visit.closed?

          rows = visit.rows(:check_results)
          old = rows.find { |row| row[:id] == result } or unacceptable("check", t(:no_such_check))
          if rows.any? { |row| row[:corrects_id] == result }
            unacceptable("check", t(:corrected_already))
          end

          check = visit.family.check(old[:check_key])
          values = seen(check, outcome, value, way)
          Decision.insert(
            t(
              :a_correction,
              title: visit.fill(check.title),
              check_said: check_said(check, values),
              why: why
            ),
            check_results: {
              **values,
              **old.slice(:side, :place, :check_key),
              corrects_id: old[:id],
              correction_reason: why
            }
          )
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What was seen at a check, as columns: yes or no, or a quantity that is judged by the check's
      # criterion. Shared by the commands that record and correct checks.
      module CheckValues
        private

        # way - of a check that fails in two ways, which it is: it says no by itself
        def seen(check, outcome, value, way = nil)
          found = check.measured? ? measured(check, value) : yes_or_no(way ? "bad" : outcome)
          return found unless check.asks_way? && found[:outcome] == "bad" && found[:way].nil?

          unless check.way(way)
            unacceptable("way", t(:say_which_way, ways: check.ways.map(&:label).join(" or ")))
          end
          { **found, way: way }
        end

        def yes_or_no(outcome)
          unacceptable("outcome", t(:say_whether_good_not)) unless outcome
          { kind: "yes_no", outcome: outcome }
        end

        def measured(check, text)
          unless text
            unacceptable("value", t(:write_what_you_measured, title: check.ask || check.title))
          end

          value = check.criterion.parse(text)
          {
            kind: check.kind,
            outcome: check.good?(value) ? "good" : "bad",
            value: Store.numeric(value),
            typed: text,
            way: check.way_of(value)&.key
          }.compact
        rescue Handrail::Fitting::Criterion::Unreadable => e
          unacceptable("value", "#{check.ask || check.title}: #{e.message}")
        end

        def check_said(check, values)
          return t(:not_possible_today) if values[:outcome] == "not_possible"

          way = check.way(values[:way])&.label
          unless values[:value]
            return way || { "good" => "yes", "bad" => "no" }.fetch(values[:outcome])
          end

          failed = "failed" if values[:outcome] == "bad"
          [check.criterion.print(values[:value].to_r), way || failed].compact.join(", ")
        end
      end
    end
  end
end

# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What was seen at a check, as columns: yes or no, or a quantity that is judged by the check's
      # criterion. Shared by the commands that record and correct checks.
      module CheckValues
        private

        def seen(check, outcome, value)
          return measured(check, value) if check.measured?

          unacceptable("outcome", "Say whether it is good or not.") unless outcome
          { kind: "yes_no", outcome: outcome }
        end

        def measured(check, text)
          unacceptable("value", "#{check.ask || check.title}: write what you measured.") unless text

          value = check.criterion.parse(text)
          {
            kind: check.kind,
            outcome: check.good?(value) ? "good" : "bad",
            value: Store.numeric(value),
            typed: text
          }
        rescue Handrail::Fitting::Criterion::Unreadable => e
          unacceptable("value", "#{check.ask || check.title}: #{e.message}")
        end

        def check_said(check, values)
          return "not possible today" if values[:outcome] == "not_possible"
          return { "good" => "yes", "bad" => "no" }.fetch(values[:outcome]) unless values[:value]

          "#{check.criterion.print(values[:value].to_r)}#{", failed" if values[:outcome] == "bad"}"
        end
      end
    end
  end
end

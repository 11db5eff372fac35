# frozen_string_literal: true

module Handrail
  module Sizing
    # What size is advised for one side, and on what grounds: a chart, a trial on the body, or a
    # computed sheet. The three answer the same questions: size, verdict, probability, margin,
    # remarks, grounds (the remarks that are kept with a choice), and the names that can be chosen.
    module Advice
      # Can always be chosen, with a reason.
      MADE = "made to measure"
      NO_SIZE = Remark[code: "no_size_holds", figures: {}]

      # Read from a chart. match - a Match; all_must_fit - true where a size that does not hold
      # every reading is no size.
      ByChart =
        Value.new(:match, :all_must_fit) do
          def size = refused? ? MADE : match.size
          def verdict = match.verdict.to_s
          def probability = refused? ? nil : match.probability
          def margin = refused? ? nil : match.margin
          def remarks = [(NO_SIZE if refused?), *match.remarks].compact
          def grounds = remarks

          # The readings are all there, and no one size holds them.
          def refused? = all_must_fit == true && !%i[fits overlap unusable].include?(match.verdict)
          def names = [*match.chart.names, MADE]
          def ready? = match.verdict != :unusable

          # Nothing left to settle.
          def clear? = match.verdict == :fits && match.probability > Match::SURE
        end

      # Decided by a trial. run - a TrialRun; match - the start guess's Match, or nil; names - of
      # the run.
      ByTrial =
        Value.new(:run, :match, :run_names) do
          def size = run.confirmed || (run.between? ? MADE : nil)
          def verdict = run.confirmed ? "trial" : "untried"
          def probability = nil
          def margin = nil
          def remarks = [run.remark]
          def grounds = [run.remark, *match&.remarks]
          def names = [*run_names, MADE]
          def ready? = !size.nil?
          def clear? = !run.confirmed.nil?
        end

      # Computed. sheet - a Sheet.
      BySheet =
        Value.new(:sheet) do
          def size = sheet.size || (sheet.complete? ? MADE : nil)

          def verdict
            {
              good: "computed",
              look_again: "computed",
              stop: "not_possible",
              not_done: "unusable"
            }.fetch(sheet.state)
          end

          def probability = nil
          def margin = nil

          def remarks
            said = [*sheet.missing, *sheet.notes.map(&:remark)]
            said.empty? ? [Remark[code: "computed", figures: { size: size }]] : said
          end

          def grounds
            sheet.complete? ? [*sheet.lines, *sheet.notes.map(&:remark)] : sheet.missing
          end
          def names = [sheet.size, MADE].compact.uniq
          def ready? = sheet.complete?
          def clear? = sheet.state == :good
        end
    end
  end
end

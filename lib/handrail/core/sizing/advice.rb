# frozen_string_literal: true

module Handrail
  module Sizing
    # What size is advised for one side, and on what grounds: a chart, a trial on the body, or a
    # computed sheet. The three answer the same questions: size, verdict, probability, margin,
    # reason, sentences, and the names that can be chosen.
    module Advice
      # Can always be chosen, with a reason.
      MADE = "made to measure"
      NO_SIZE = "Every girth must lie in one size, and no size holds them all: made to measure."

      # Read from a chart. match - a Match; all_must_fit - true where a size that does not hold
      # every reading is no size.
      ByChart =
        Value.new(:match, :all_must_fit) do
          def size = refused? ? MADE : match.size
          def verdict = match.verdict.to_s
          def probability = refused? ? nil : match.probability
          def margin = refused? ? nil : match.margin
          def reason = [*(NO_SIZE if refused?), match.reason].join(" ")
          def sentences = [*(NO_SIZE if refused?), *match.sentences]

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
          def reason = [run.sentence, match&.reason].compact.join(" ")
          def sentences = [run.sentence]
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
          def reason = sheet.complete? ? sheet.reason : sheet.missing.join(" ")
          def sentences = sheet.sentences.empty? ? ["Computed: #{size}."] : sheet.sentences
          def names = [sheet.size, MADE].compact.uniq
          def ready? = sheet.complete?
          def clear? = sheet.state == :good
        end
    end
  end
end

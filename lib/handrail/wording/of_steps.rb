# frozen_string_literal: true

module Handrail
  module Wording
    # What is said of the steps of a fitting and of what opens a check again. Part of Wording.
    module OfSteps
      # What opened a check again. change - title or cause of a Fitting::Change
      def opened_by(change)
        cause = change[:cause]
        change[:title] || t("causes.#{cause ? cause[:code] : :another}", **cause.to_h.except(:code))
      end

      # In which order it is looked. postures - keys, in the order of the checks
      def posture_order(postures)
        return t("posture_order.none") if postures.empty?

        first, *others = postures.map { |key| t("postures.#{key}") }
        return t("posture_order.one", first: first.downcase) if others.empty?

        t("posture_order.many", first: first, others: others.map(&:downcase).join(", "))
      end

      # Which step goes before another one. step - a Families::Step
      def goes_first(step) = step.why || t("steps.first", step: step.title)

      # What is noted where steps were passed over, or nil.
      def order_swapped(step, skipped)
        return if skipped.empty?

        t("steps.swapped", step: step.title, others: skipped.map(&:title).join(", "))
      end
    end
  end
end
